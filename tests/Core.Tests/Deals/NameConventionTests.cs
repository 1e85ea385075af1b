using CsCheck;
using DapperLantern.Core.Deals;

namespace DapperLantern.Core.Tests.Deals;

public sealed class NameConventionTests
{
    private static string Write(string form, string? account = "Fjordnær Laks", string? product = "Skerry S4", string? month = "March 2027") =>
        NameConvention.Write(
            form,
            place =>
                place switch
                {
                    "account" => account,
                    "product" => product,
                    "month" => month,
                    _ => null,
                }
        );

    [Fact]
    public void ADealIsNamedByTheConvention() => Write("{account} - {product} - {month}").ShouldBe("Fjordnær Laks - Skerry S4 - March 2027");

    [Theory]
    [InlineData("{account} - {product} - {month}", "Fjordnær Laks - March 2027")]
    [InlineData("{product}: {account}", "Fjordnær Laks")]
    [InlineData("Deal {product} {account}", "Deal Fjordnær Laks")]
    [InlineData("{account} ({product}), {month}", "Fjordnær Laks, March 2027")]
    [InlineData("{account}, {product}", "Fjordnær Laks")]
    public void WhatIsNotKnownTakesItsSeparatorWithIt(string form, string expected) => Write(form, product: null).ShouldBe(expected);

    [Theory]
    [InlineData("", "name-form-unfit")]
    [InlineData("{account", "name-form-braces")]
    [InlineData("account}", "name-form-braces")]
    [InlineData("{}", "name-form-braces")]
    [InlineData("{a{b}}", "name-form-braces")]
    [InlineData("always the same", "name-form-same")]
    [InlineData("{acount}, {month}", "name-form-place")]
    public void AConventionThatCannotWorkIsNamed(string form, string problem) => NameConvention.Check(form, Sample.Catalogue).Select(p => p.Code).ShouldBe([problem]);

    [Fact]
    public void FieldsOfTheCatalogueArePlacesToo() => NameConvention.Check("{country} {account} {industry}", Sample.Catalogue).ShouldBeEmpty();

    [Fact]
    public void AnyValuesMakeANameThatFitsAndIsNotEmptyWhereOneIsKnown() =>
        Gen.Select(Gen.String, Gen.String, Gen.String)
            .Sample(
                (a, b, c) =>
                {
                    var name = Write("{account}, {product}, {month}", a, b, c);
                    return name.Length <= NameConvention.Longest && (name.Length > 0 || string.IsNullOrWhiteSpace(a + b + c) || (a + b + c).Trim(' ', ',', ';', '-').Length == 0);
                }
            );

    [Fact]
    public void NoSeparatorIsEverLeftOver() =>
        Gen
            .Bool.Array[3]
            .Sample(known =>
            {
                var name = Write("{account} - {product} - {month}", known[0] ? "A" : null, known[1] ? "B" : "", known[2] ? "C" : "  ");
                return name == string.Join(" - ", new[] { "A", "B", "C" }.Where((_, i) => known[i]));
            });
}
