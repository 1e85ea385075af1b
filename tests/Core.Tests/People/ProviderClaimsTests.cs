using DapperLantern.Core.People;

namespace DapperLantern.Core.Tests.People;

/// <summary>Roles and teams out of what an identity provider sends.</summary>
public sealed class ProviderClaimsTests
{
    private static readonly ProviderMap[] Maps = [new("sales", ["rep"], ["north", "south"]), new(" lead desk ", ["coordinator", "rep"], []), new("north", [], ["north"])];

    [Fact]
    public void EachValueMeansAllOfWhatItMeans()
    {
        var standing = ProviderClaims.Of(Maps, ["marketer"], ["lead desk", "sales ", "choir"]);
        (string.Join(' ', standing.Roles), string.Join(' ', standing.Teams)).ShouldBe(("rep coordinator", "north south"));
    }

    [Theory]
    [InlineData("choir", "marketer", "")]
    [InlineData("north", "marketer", "north")]
    [InlineData("SALES", "marketer", "")]
    [InlineData("", "marketer", "")]
    public void WhoseValuesMeanNoRoleHasTheOthers(string value, string roles, string teams)
    {
        var standing = ProviderClaims.Of(Maps, ["marketer", "marketer"], [value]);
        (string.Join(' ', standing.Roles), string.Join(' ', standing.Teams)).ShouldBe((roles, teams));
        ProviderClaims.Of(Maps, [], [value]).Roles.ShouldBeEmpty();
    }

    [Fact]
    public void TeamsThatNoValueMeansStay()
    {
        var standing = ProviderClaims.Of(Maps, [], ["north"]);
        ProviderClaims.Teams(Maps, standing, ["south", "east"]).ShouldBe(["north", "east"]);
    }

    [Theory]
    [InlineData("groups", "a b c")]
    [InlineData("listed", "x y")]
    [InlineData("access.roles", "r1 r2")]
    [InlineData("access.deep.er", "d")]
    [InlineData("access.none", "")]
    [InlineData("access.deep", "")]
    [InlineData("plain.roles", "")]
    [InlineData("with.point", "whole")]
    [InlineData("missing", "")]
    [InlineData(".roles", "")]
    [InlineData("broken", "[not json")]
    public void ValuesAreFoundWhereverProvidersPutThem(string claim, string found)
    {
        (string, string)[] claims =
        [
            ("groups", "a"),
            ("groups", "b"),
            ("groups", "a"),
            ("groups", "c"),
            ("listed", """["x", "y", 3]"""),
            ("access", """{"roles": ["r1", "r2"], "deep": {"er": "d"}}"""),
            ("plain", "text"),
            ("with.point", "whole"),
            ("broken", "[not json"),
        ];
        string.Join(' ', ProviderClaims.Values(claims, claim)).ShouldBe(found);
    }
}
