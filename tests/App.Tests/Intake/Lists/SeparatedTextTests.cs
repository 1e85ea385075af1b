using System.Text;
using CsCheck;
using DapperLantern.App.Data;
using DapperLantern.App.Intake.Lists;

namespace DapperLantern.App.Tests.Intake.Lists;

/// <summary>Reading separated lists: what RFC 4180 says, and the usual breaches of it.</summary>
public sealed class SeparatedTextTests
{
    static SeparatedTextTests() => Encoding.RegisterProvider(CodePagesEncodingProvider.Instance);

    [Theory]
    [InlineData(",")]
    [InlineData(";")]
    [InlineData("\t")]
    [InlineData("|")]
    public void TheSeparatorIsFound(string separator) =>
        Read.Detected(Read.Bytes($"Name{separator}Mail{separator}Country\n\"Tor, the elder; him\"{separator}tor@vik.example{separator}Norway\n")).Separator.ShouldBe(separator);

    [Theory]
    [InlineData("utf-8", "utf-8")]
    [InlineData("utf-16", "utf-16")]
    [InlineData("utf-16BE", "utf-16BE")]
    [InlineData("windows-1252", "windows-1252")]
    [InlineData("iso-8859-1", "windows-1252")]
    [InlineData("iso-8859-15", "iso-8859-15")]
    public void TheEncodingIsFoundAndTheLettersAreRight(string written, string expected)
    {
        var encoding = Encoding.GetEncoding(written);
        var price = written is "iso-8859-1" ? "" : "€ 12";
        var text = $"Name,Mail,Ort,Umsatz\nJürgen Größe,j@g.example,Brunsbüttel,{price}\nÅse Nærum,å@n.example,Tromsø,\nIñigo,i@i.example,Cádiz,\n";
        foreach (var mark in new[] { encoding.GetPreamble(), [] })
        {
            byte[] content = [.. mark, .. encoding.GetBytes(text)];
            var reading = Read.Detected(content);
            reading.Encoding.ShouldBe(expected);
            Read.All(content, reading).Rows[0].Cells.ShouldBe(["Jürgen Größe", "j@g.example", "Brunsbüttel", price]);
        }
    }

    [Fact]
    public void AByteOrderMarkIsNoPartOfTheFirstHeading() => Read.All([0xEF, 0xBB, 0xBF, .. Read.Bytes("Name,Mail\nTor,a@b.example\n")]).Headings[0].ShouldBe("Name");

    [Fact]
    public void QuotesHoldSeparatorsLinesAndQuotes() => Read.Rows("a,b\n\"x, y\",\"say \"\"hello\"\"\nthere\"\n").Single().Cells.ShouldBe(["x, y", "say \"hello\"\nthere"]);

    [Theory]
    [InlineData("a,b\r\n1,2\r\n3,4\r\n")]
    [InlineData("a,b\n1,2\n3,4")]
    [InlineData("a,b\r1,2\r3,4\r")]
    [InlineData("a,b\n1,2\n\n  ,\n3,4\n\n")]
    public void LineEndsOfAnyKindAndBlankLinesMakeNoRows(string text) => Read.Rows(text).Select(r => r.Cells[0]).ShouldBe(["1", "3"]);

    [Fact]
    public void RowsAreNumberedFromOneAfterTheHeadingWithoutGaps() => Read.Rows("a,b\n1,2\n\n3,4\n").Select(r => r.Number).ShouldBe([1, 2]);

    [Theory]
    [InlineData("say \"hello\" there,2", new[] { "say \"hello\" there", "2" })]
    [InlineData("\"say \"hello\" there\",2", new[] { "say \"hello\" there", "2" })]
    [InlineData("\"closed\"  ,2", new[] { "closed", "2" })]
    [InlineData("\"\",\"\"\"\"", new[] { "", "\"" })]
    [InlineData("1", new[] { "1" })]
    [InlineData("1,2,3,4,", new[] { "1", "2", "3", "4", "" })]
    public void BreachesOfTheRulesAreReadAsTheyAreMeant(string line, string[] cells) => SeparatedText.Cut(line, ',').ShouldBe(cells);

    [Fact]
    public void AQuoteThatIsNeverClosedBreaksItsOwnLineOnly()
    {
        var rows = Read.Rows("a,b\n1,2\n\"open,3\n" + string.Concat(Enumerable.Range(4, 200).Select(i => $"{i},x\n")));
        rows.Count.ShouldBe(202);
        var broken = rows.Single(r => r.Broken is not null);
        (broken.Number, broken.Cells.Single()).ShouldBe((2, "\"open,3"));
        rows[^1].Cells[0].ShouldBe("203");
    }

    [Fact]
    public void ALineLongerThanAnyRowComesBrokenAndIsNotHeldAsOne() =>
        Read.Rows("a,b\n" + new string('x', SeparatedText.LongestLine + 50_000) + "\n1,2\n").Where(r => r.Broken is null).Select(r => r.Cells[0]).ShouldContain("1");

    [Fact]
    public void TheHeadingsAreFoundBelowATitle()
    {
        var content = Read.Bytes("Visitors of our stand\nexported 2026-11-20\n\nName;Mail;Country\nTor Vik;tor@vik.example;Norway\n");
        var reading = Read.Detected(content);
        reading.HeadingRow.ShouldBe(3);
        Read.All(content).Rows.Single().Cells[0].ShouldBe("Tor Vik");
    }

    [Fact]
    public void AListWithoutHeadingsLosesNotItsFirstRow()
    {
        var content = Read.Bytes("Tor Vik,tor@vik.example,Norway\nRagna Sollid,ragna@sollid.example,Norway\n");
        Read.Detected(content).HeadingRow.ShouldBe(0);
        Read.All(content).Rows.Select(r => r.Cells[0]).ShouldBe(["Tor Vik", "Ragna Sollid"]);
    }

    [Fact]
    public void WhatWeWriteWeReadBackToTheLetterAndNoSpreadsheetTakesItForAFormula() =>
        Gen.Char["ab ,;\"\n\t|æ=+-@'"]
            .Array[0, 8]
            .Select(c => new string(c))
            .Array[3]
            .Array[1, 20]
            .Sample(rows =>
            {
                var text = "h1,h2,h3\r\n" + string.Concat(rows.Select(Csv.Line));
                var written = rows.Where(r => r.Any(c => c.Trim().Length > 0)).ToList();
                var read = Read.Rows(text).Select(r => r.Cells.Select(Csv.Meant).ToArray()).ToList();
                return read.Count == written.Count
                    && read.Zip(written, (a, b) => a.SequenceEqual(b)).All(same => same)
                    && Read.Rows(text).All(r => r.Cells.All(c => c.Length == 0 || !"=+-@\t\r".Contains(c[0], StringComparison.Ordinal)));
            });
}
