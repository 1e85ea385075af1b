using CsCheck;
using DapperLantern.Core.Handover;
using DapperLantern.Core.Matching;

namespace DapperLantern.Core.Tests.Matching;

public sealed class MatcherTests
{
    private static readonly Gen<string> Part = Gen.OneOfConst("", "a", "b");
    private static readonly Gen<Identity> AnyIdentity = Gen.Select(Part, Part, Part, Part, Part).Select((e, p, f, l, c) => new Identity(e, p, f, l, c));
    private static readonly Gen<Organisation> AnyOrganisation = Gen.Select(Part, Part, Part).Select((d, n, c) => new Organisation(d, n, c));

    [Fact]
    public void WhoIsComparedWithWhomDoesNotMatter()
    {
        Gen.Select(AnyIdentity, AnyIdentity).Sample((a, b) => Matcher.Compare(a, b).Weight == Matcher.Compare(b, a).Weight);
        Gen.Select(AnyOrganisation, AnyOrganisation).Sample((a, b) => AccountMatcher.Compare(a, b).Weight == AccountMatcher.Compare(b, a).Weight);
    }

    [Fact]
    public void AWeightIsTheSumOfItsEvidence() =>
        Gen.Select(AnyIdentity, AnyIdentity).Sample((a, b) => Matcher.Compare(a, b) is var m && m.Weight == m.Evidence.Sum(e => e.Weight));

    [Fact]
    public void WithNothingInCommonKnownNothingIsSaid() => Matcher.Compare(new Identity("", "1", "", "", ""), new Identity("x", "", "", "", "")).Evidence.ShouldBeEmpty();

    [Fact]
    public void TheSameMailAddressIsTheSamePerson() =>
        Matcher.Compare(new Identity("r@f.example", "", "ragna", "sollid", ""), new Identity("r@f.example", "", "ragna", "sollid", "")).Same.ShouldBeTrue();

    [Fact]
    public void TwoNamesBehindOneMailAddressAreTwoPeople() =>
        Matcher.Compare(new Identity("office@f.example", "", "ragna", "sollid", ""), new Identity("office@f.example", "", "tor", "vik", "")).Same.ShouldBeFalse();

    [Fact]
    public void TheSameNameAndTelephoneAreTheSamePerson() =>
        Matcher.Compare(new Identity("", "1", "ragna", "sollid", ""), new Identity("", "1", "ragna", "sollid", "")).Same.ShouldBeTrue();

    [Fact]
    public void AnOfficeTelephoneAloneIsOnlyAQuestion() =>
        Matcher.Compare(new Identity("", "1", "ragna", "sollid", "f"), new Identity("", "1", "tor", "vik", "f")).Same.ShouldBeFalse();

    [Fact]
    public void TheWebDomainMakesAnAccountTheSameAndTheNameAloneDoesNot()
    {
        AccountMatcher.Compare(new("f.example", "fjordnaer laks", "NO"), new("f.example", "fjordnaer", "NO")).Same.ShouldBeTrue();
        AccountMatcher.Compare(new("", "fjordnaer laks", "NO"), new("g.example", "fjordnaer laks", "NO")).Twin.ShouldBeTrue();
    }

    [Fact]
    public void AnyNumberTheyShareCounts() =>
        Matcher.Compare(new Identity("", "1", "ragna", "sollid", "", "2"), new Identity("", "2", "ragna", "sollid", "", "3")).Same.ShouldBeTrue();
}
