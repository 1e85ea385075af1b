using System.Text;
using CsCheck;
using DapperLantern.App.Intake;

namespace DapperLantern.App.Tests.Intake;

/// <summary>Reading separated lists: what RFC 4180 says, and the usual breaches of it.</summary>
public sealed class ListFileTests
{
    static ListFileTests() => Encoding.RegisterProvider(CodePagesEncodingProvider.Instance);

    private static List<ListRow> Rows(string text, char separator = ',') => [.. ListFile.Open(Encoding.UTF8.GetBytes(text), new ListReading("utf-8", separator)).Rows];

    private static ListReading Detected(byte[] content) => ListFile.Detect(content).Reading.ShouldNotBeNull();

    [Theory]
    [InlineData(",", ',')]
    [InlineData(";", ';')]
    [InlineData("\t", '\t')]
    [InlineData("|", '|')]
    public void TheSeparatorIsFound(string separator, char expected) =>
        Detected(Encoding.UTF8.GetBytes($"Name{separator}Mail{separator}Country\nTor, the elder{separator}tor@vik.example{separator}Norway\n")).Separator.ShouldBe(expected);

    [Theory]
    [InlineData("utf-8", "utf-8")]
    [InlineData("utf-16", "utf-16")]
    [InlineData("windows-1252", "windows-1252")]
    public void TheEncodingIsFoundAndTheLettersAreRight(string written, string expected)
    {
        var encoding = Encoding.GetEncoding(written);
        byte[] content =
        [
            .. encoding.GetPreamble(),
            .. encoding.GetBytes("Name,Mail,Ort\nJürgen Größe,j@g.example,Brunsbüttel\nÅse Nærum,å@n.example,Tromsø\nIñigo,i@i.example,Cádiz\n"),
        ];
        var reading = Detected(content);
        reading.Encoding.ShouldBe(expected);
        ListFile.Open(content, reading).Rows.First().Cells.ShouldBe(["Jürgen Größe", "j@g.example", "Brunsbüttel"]);
    }

    [Fact]
    public void AByteOrderMarkIsNoPartOfTheFirstHeading() =>
        ListFile.Open([0xEF, 0xBB, 0xBF, .. Encoding.UTF8.GetBytes("Name,Mail\nTor,a@b.example\n")], new ListReading("utf-8", ',')).Headings[0].ShouldBe("Name");

    [Fact]
    public void QuotesHoldSeparatorsLinesAndQuotes() => Rows("a,b\n\"x, y\",\"say \"\"hello\"\"\nthere\"\n").Single().Cells.ShouldBe(["x, y", "say \"hello\"\nthere"]);

    [Theory]
    [InlineData("a,b\r\n1,2\r\n3,4\r\n")]
    [InlineData("a,b\n1,2\n3,4")]
    [InlineData("a,b\n1,2\n\n  ,\n3,4\n\n")]
    public void LineEndsOfAnyKindAndBlankLinesMakeNoRows(string text) => Rows(text).Select(r => r.Cells[0]).ShouldBe(["1", "3"]);

    [Fact]
    public void RowsAreNumberedFromOneAfterTheHeadingWithoutGaps() => Rows("a,b\n1,2\n\n3,4\n").Select(r => r.Number).ShouldBe([1, 2]);

    [Fact]
    public void ShortAndLongRowsKeepTheirOwnCells()
    {
        var rows = Rows("a,b,c\n1\n1,2,3,4\n");
        rows[0].Cells.ShouldBe(["1"]);
        rows[1].Cells.ShouldBe(["1", "2", "3", "4"]);
    }

    [Fact]
    public void ARowKeepsItsTextAsItCame() => Rows("a,b\n \"x, y\" , z \n").Single().Raw.ShouldBe(" \"x, y\" , z ");

    [Fact]
    public void WhatIsWrittenByTheRulesIsReadBackToTheLetter()
    {
        var cell = Gen.Char["ab ,;\"\n\t|æ"].Array[1, 8].Select(c => new string(c)).Where(c => !string.IsNullOrWhiteSpace(c));
        cell.Array[3]
            .Array[1, 20]
            .Sample(rows =>
            {
                static string Quoted(string c) => $"\"{c.Replace("\"", "\"\"", StringComparison.Ordinal)}\"";
                var text = "h1,h2,h3\n" + string.Concat(rows.Select(r => string.Join(',', r.Select(Quoted)) + "\n"));
                return Rows(text).Select(r => r.Cells).Zip(rows, (read, written) => read.SequenceEqual(written)).All(same => same);
            });
    }

    [Fact]
    public void NoBytesWhateverMakeTheReaderThrow() =>
        Gen
            .Byte.Array[0, 400]
            .Sample(content =>
            {
                var (reading, trouble) = ListFile.Detect(content);
                return reading is null ? trouble!.Sentence.Length > 0 : ListFile.Open(content, reading).Rows.Count() >= 0;
            });

    [Fact]
    public void TheSameContentHasTheSameHashAndOtherContentAnother()
    {
        ListFile.Hash([1, 2]).ShouldBe(ListFile.Hash([1, 2]));
        ListFile.Hash([1, 2]).ShouldNotBe(ListFile.Hash([2, 1]));
    }
}
