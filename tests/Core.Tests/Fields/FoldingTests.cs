using CsCheck;
using DapperLantern.Core.Fields;

namespace DapperLantern.Core.Tests.Fields;

public sealed class FoldingTests
{
    [Theory]
    [InlineData("Fjordnær Laks AS", "FJORDNAER LAKS")]
    [InlineData("Husumer Hafen GmbH & Co. KG", "Husumer Hafen")]
    [InlineData("Ría Baixa Mariscos S.L.", "ria baixa mariscos")]
    public void ACompanyIsItselfWithAndWithoutItsLegalForm(string a, string b) => Folding.Company(a).ShouldBe(Folding.Company(b));

    [Fact]
    public void DifferentCompaniesStayDifferent() => Folding.Company("Clyde Salmon Ltd").ShouldNotBe(Folding.Company("Clyde Trout Ltd"));

    [Fact]
    public void ACompanyNamedLikeALegalFormKeepsItsName() => Folding.Company("AS").ShouldBe("as");

    [Fact]
    public void FoldingTwiceIsFoldingOnce() =>
        Gen.String.Sample(text => Folding.Plain(Folding.Plain(text)) == Folding.Plain(text) && Folding.Company(Folding.Company(text)) == Folding.Company(text));

    [Theory]
    [InlineData("MARÍA DEL MAR", "María del Mar")]
    [InlineData("o'neill-smith", "O'Neill-Smith")]
    [InlineData("McBride", "McBride")]
    [InlineData("VAN DER BERG", "van der Berg")]
    public void NamesGetTheirCaseBackUnlessItWasMeant(string written, string expected) => NameCase.Of(written).ShouldBe(expected);

    [Theory]
    [InlineData("a@gmail.com", null)]
    [InlineData("a@fjordnaer.example", "fjordnaer.example")]
    [InlineData(null, null)]
    public void AFreeMailDomainSaysNothingOfTheEmployer(string? mail, string? expected) => MailDomains.Company(mail).ShouldBe(expected);
}
