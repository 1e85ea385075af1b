using DapperLantern.Core.Fields;

namespace DapperLantern.Core.Tests.Fields;

/// <summary>Words that stand with names and are none: legal forms, forms of address.</summary>
public sealed class NameWordsTests
{
    [Theory]
    [InlineData("Seehof GmbH & Co. KG", true)]
    [InlineData("REEF LTD", true)]
    [InlineData("Rheingas AG", true)]
    [InlineData("RHEINGAS AG", false)]
    [InlineData("Kurt Ag", false)]
    [InlineData("Mar Azul, S.L.", true)]
    [InlineData("Norsk Laks A/S", true)]
    [InlineData("GmbH", false)]
    [InlineData("Ltd Smith", false)]
    public void ALegalFormAtTheEndMakesACompany(string name, bool company) => LegalForms.IsCompany(name).ShouldBe(company);

    [Theory]
    [InlineData("Seehof GmbH & Co. KG", "seehof")]
    [InlineData("FJORDNAER LAKS", "fjordnaer laks")]
    [InlineData("Fjordnær Laks AS", "fjordnaer laks")]
    [InlineData("Torran Company Ltd", "torran")]
    [InlineData("Ltd", "ltd")]
    [InlineData("Lasse", "lasse")]
    public void WithoutItsLegalFormACompanyIsCompared(string name, string key) => Folding.Company(name).ShouldBe(key);

    [Theory]
    [InlineData("Reef Ltd, Harbour 3", true)]
    [InlineData("Segelclub Kiel e.V. 1891", true)]
    [InlineData("Mar Azul SL | Cádiz", true)]
    [InlineData("Asa Lund", false)]
    [InlineData("Plcombe Road", false)]
    [InlineData("The Company of Mermaids", false)]
    public void ALegalFormIsFoundInALine(string line, bool stands) => LegalForms.StandsIn(line).ShouldBe(stands);

    [Theory]
    [InlineData("Herr Prof. Dr.", true)]
    [InlineData("Dr.-Ing.", true)]
    [InlineData("Señora", true)]
    [InlineData("Phil", true)]
    [InlineData("Dr. Vik", false)]
    [InlineData("", false)]
    public void AColumnOfFormsOfAddressIsKnown(string text, bool only) => FormsOfAddress.IsOne(text).ShouldBe(only);

    [Theory]
    [InlineData("Herr Prof. Dr. Tor Vik", "Tor Vik")]
    [InlineData("Dr.-Ing. Åse Nærum", "Åse Nærum")]
    [InlineData("Don Smith", "Don Smith")]
    [InlineData("Phil Marsh", "Phil Marsh")]
    [InlineData("Dr Vik", "Vik")]
    [InlineData("Fräulein Ida Berg", "Ida Berg")]
    [InlineData("Mag", "Mag")]
    public void FormsOfAddressAreTakenOffANameAndNamesAreNot(string written, string name) => FormsOfAddress.TakeOff(written).ShouldBe(name);
}
