using DapperLantern.App.Intake.Lists;

namespace DapperLantern.App.Tests.Intake.Lists;

public sealed class WorkbookTests
{
    private static readonly object?[] Heads = ["Name", "Mail", "Phone", "Zip", "Needed by", "Staff"];

    private static byte[] Book(params object?[][] rows) => WorkbookMaker.Make(false, new SheetOf("Leads", [Heads, .. rows]));

    [Theory]
    [InlineData(false)]
    [InlineData(true)]
    public void DatesAreRightWhetherCountedFrom1900Or1904(bool from1904)
    {
        var book = WorkbookMaker.Make(from1904, new SheetOf("Leads", [Heads, ["Tor", "t@v.example", null, null, new SheetCell.Date(new DateTime(2026, 11, 17)), null]]));
        Read.Named(book)[0]["Needed by"].ShouldBe("2026-11-17");
    }

    [Fact]
    public void ADateWithATimeKeepsIt() =>
        Read.Named(Book(["Tor", "t@v.example", null, null, new SheetCell.Date(new DateTime(2026, 11, 17, 15, 45, 0)), null]))[0]["Needed by"].ShouldBe("2026-11-17 15:45:00");

    [Fact]
    public void NumbersAreReadAsTheyAreMeant()
    {
        var row = Read.Named(Book(["Tor", "t@v.example", new SheetCell.Number(441632960143), new SheetCell.Number(1234, SheetCell.Code), null, new SheetCell.Number(12.5)]))[0];
        (row["Phone"], row["Zip"], row["Staff"]).ShouldBe(("441632960143", "01234", "12.5"));
    }

    [Fact]
    public void AFormulaGivesItsKeptValueAndAnErrorIsSaid()
    {
        var row = Read.Named(Book([new SheetCell.Formula("A1&B1", "Tor Vik"), "t@v.example", null, null, null, new SheetCell.Error("#DIV/0!")]))[0];
        row["Name"].ShouldBe("Tor Vik");
        row["Staff"].ShouldBe("#DIV/0!");
    }

    [Fact]
    public void HiddenSheetsAreNamedAndTheFirstVisibleOneWithATableIsRead()
    {
        var book = WorkbookMaker.Make(
            false,
            new SheetOf(
                "Codes",
                [
                    ["x", "y"],
                    ["1", "2"],
                ],
                Hidden: true
            ),
            new SheetOf(
                "Cover",
                [
                    ["Autumn fair"],
                ]
            ),
            new SheetOf(
                "Scans",
                [
                    ["Visitor", "E-mail"],
                    ["Tor Vik", "t@v.example"],
                ]
            )
        );
        var reading = Read.Detected(book);
        reading.Sheet.ShouldBe("Scans");
        reading.Sheets.Where(s => s.Hidden).Select(s => s.Name).ShouldBe(["Codes"]);
        Read.All(book, reading with { Sheet = "Codes" }).Rows.Single().Cells.ShouldBe(["1", "2"]);
    }

    [Fact]
    public void HeadingsAreFoundUnderMergedGroupsAndTitles()
    {
        var book = WorkbookMaker.Make(
            false,
            new SheetOf(
                "Leads",
                [
                    ["Northern fair, badge scans", null, null, null],
                    [null, null, null, null],
                    ["Company", "Contact", null, "Country"],
                    [null, "First name", "Mail", null],
                    ["Fjordnær Laks", "Ragna", "r@f.example", "Norway"],
                ],
                false,
                "A1:D1",
                "B3:C3",
                "A3:A4",
                "D3:D4"
            )
        );
        Read.Named(book)
            .Single()
            .ShouldBe(
                new Dictionary<string, string>
                {
                    ["Company"] = "Fjordnær Laks",
                    ["First name"] = "Ragna",
                    ["Mail"] = "r@f.example",
                    ["Country"] = "Norway",
                }
            );
    }

    [Fact]
    public void AMergedCellHoldsForEveryRowItCovers()
    {
        var book = WorkbookMaker.Make(
            false,
            new SheetOf(
                "Leads",
                [
                    ["Company", "Mail"],
                    ["Fjordnær", "a@f.example"],
                    [null, "b@f.example"],
                    ["Other", "c@f.example"],
                ],
                false,
                "A2:A3"
            )
        );
        Read.Named(book).Select(r => r["Company"]).ShouldBe(["Fjordnær", "Fjordnær", "Other"]);
    }

    [Fact]
    public void BlankRowsAreNoRows() => Read.Named(Book(["Tor", "t@v.example"], [null, " "], ["Ragna", "r@s.example"])).Count.ShouldBe(2);

    [Fact]
    public void ADamagedWorkbookIsRefusedWithASentence()
    {
        var book = Book(["Tor", "t@v.example"]);
        Read.Refused(book[..(book.Length / 2)]).ShouldBe("workbook-broken");
        Read.Refused([0x50, 0x4B, 3, 4, 0, 0, 0, 0, 0, 0]).ShouldBe("workbook-broken");
        Read.Refused([0xD0, 0xCF, 0x11, 0xE0, 0xA1, 0xB1, 0x1A, 0xE1, 0, 0, 0, 0]).ShouldBe("workbook-broken");
    }

    [Fact]
    public void AWorkbookThatUnpacksToGigabytesIsRefusedBeforeItIsUnpacked()
    {
        var rows = Enumerable.Range(0, 400).Select(_ => new object?[] { new string('a', 60_000), "b" }).ToArray();
        Read.Refused(WorkbookMaker.Make(false, new SheetOf("Leads", rows))).ShouldBe("workbook-too-large");
    }
}
