using CsCheck;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Intake;

namespace DapperLantern.Core.Tests.Intake;

/// <summary>What is remembered is what would have been read.</summary>
public sealed class ReadMemoryTests
{
    private static readonly FieldCatalogue Catalogue = FieldCatalogue.Build();

    private static readonly string[] Written =
    [
        "",
        " ",
        "n/a",
        "#N/A",
        "Norge",
        "Untied Kingdom",
        "NO",
        "Bayern",
        "CA",
        "1.234,50",
        "1,234.50",
        "12",
        "03/04/2027",
        "31.02.2027",
        "ja",
        "nein",
        "perhaps",
        "English",
        "deutsch",
        "+47 406 12 345",
        "406 12 345",
        "a@b.example",
        "not a mail",
        "www.x.example",
        "MARY-ANN o'neil",
        "\u200bx",
    ];

    private static readonly Gen<Conventions> Ways = Gen.Select(
            Gen.OneOfConst<string?>(null, "NO", "US", "DE"),
            Gen.OneOfConst(DateOrder.DayFirst, DateOrder.MonthFirst),
            Gen.OneOfConst(DecimalMark.Either, DecimalMark.Comma, DecimalMark.Point)
        )
        .Select((country, dates, decimals) => new Conventions(country, dates, decimals));

    // One column has one way to write dates and numbers; the country is each row's own.
    [Fact]
    public void AColumnIsReadAsIfNothingWereRemembered() =>
        Gen.Select(Gen.Int[0, Catalogue.Fields.Length - 1], Ways, Gen.Select(Gen.OneOfConst(Written), Gen.OneOfConst<string?>(null, "NO", "US", "DE")).Array[1, 60])
            .Sample(
                (at, way, rows) =>
                {
                    var field = Catalogue.Fields[at];
                    var memory = new ReadMemory(field);
                    foreach (var (written, country) in rows)
                        memory.Read(written, way with { Country = country }).ShouldBe(FieldReader.Read(field, written, way with { Country = country }), $"{field.Key}: {written}");
                }
            );

    // Past the trial, and past what is kept, in both kinds of column.
    [Theory]
    [InlineData(7)]
    [InlineData(100_000)]
    public void ALongColumnIsReadAlikeToItsEnd(int different)
    {
        var field = Catalogue["employees"];
        var memory = new ReadMemory(field);
        for (var i = 0; i < 10_000; i++)
            memory.Read($"{i % different}", default).Value.Number.ShouldBe(i % different);
    }
}
