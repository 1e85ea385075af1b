using System.Collections.Immutable;
using DapperLantern.Core.Rights;

namespace DapperLantern.Core.Tests.Rights;

public sealed class UserRightsTests
{
    private static readonly Reach[] Parts = [Reach.Own, Reach.Team, Reach.Reports, Reach.Unowned, Reach.Shared, Reach.All];

    // Held by this test: a change of what is shipped is a decision.
    [Theory]
    [InlineData(ShippedRoles.Administrator, "ManagePeople KeepTokens AnswerPersons SeeLog SetUp RunIntake GiveLeads ExportLeads", "TakeLeads")]
    [InlineData(ShippedRoles.Coordinator, "SetUp RunIntake GiveLeads ExportLeads SettleDuplicates", "ManagePeople KeepTokens AnswerPersons SeeLog TakeLeads")]
    [InlineData(ShippedRoles.Manager, "GiveLeads SeeIntake ExportLeads WorkDeals", "SetUp RunIntake ManagePeople")]
    [InlineData(ShippedRoles.Rep, "WorkLeads TakeLeads WorkDeals HandOver SeeDeals", "GiveLeads SeeIntake ExportLeads SetUp")]
    [InlineData(ShippedRoles.Qualifier, "WorkLeads TakeLeads SeeLeads", "SeeDeals WorkDeals HandOver GiveLeads")]
    [InlineData(ShippedRoles.Marketer, "RunIntake CoinTags ExportLeads SeeLeads", "WorkLeads SeeDeals GiveLeads")]
    public void AShippedRoleMayWhatItIsShippedWith(string key, string may, string mayNot)
    {
        var rights = new UserRights([ShippedRoles.Find(key)!]);
        may.Split(' ').Select(Enum.Parse<Act>).ShouldAllBe(a => rights.May(a));
        mayNot.Split(' ').Select(Enum.Parse<Act>).ShouldAllBe(a => !rights.May(a));
        ActTable.Everybody.ShouldAllBe(a => rights.May(a));
    }

    [Fact]
    public void EveryShippedRoleIsSoundAndEveryActCanBeChosenOrFollows()
    {
        ShippedRoles.All.ShouldAllBe(r => r.Check() == null);
        ShippedRoles.All.Select(r => r.Key).ShouldBeUnique();
        Enum.GetValues<Act>().Where(a => ActTable.Find(a) is null).ShouldBe([Act.SeeDesk, Act.SeeLeads, Act.SeeDeals, Act.KeepOwnSignIn], ignoreOrder: true);
        ActTable.All.Select(a => a.Words).ShouldBeUnique();
    }

    [Fact]
    public void NobodyWithoutARoleMayAnything()
    {
        Enum.GetValues<Act>().ShouldAllBe(a => !UserRights.None.May(a));
        RoleDefinition.Kinds.ShouldAllBe(k => UserRights.None.Sees(k) == Reach.None);
        (UserRights.None.ContactData, UserRights.None.PersonalData, UserRights.None.OwnOnly).ShouldBe((Reach.None, false, true));
    }

    /// <summary>Several roles together give what any of them gives, and nothing that none gives.</summary>
    [Fact]
    public void SeveralRolesGiveTheMostOfEach()
    {
        var random = new Random(5);
        for (var i = 0; i < 500; i++)
        {
            ImmutableArray<RoleDefinition> roles = [.. Enumerable.Range(0, random.Next(1, 4)).Select(n => Drawn(random, n))];
            var rights = new UserRights(roles);
            foreach (var act in Enum.GetValues<Act>())
                rights.May(act).ShouldBe(roles.Any(r => r.IsGiven(act)));
            foreach (var kind in RoleDefinition.Kinds)
            foreach (var part in Parts)
                rights.Sees(kind).HasFlag(part).ShouldBe(roles.Any(r => r.SeesOf(kind).HasFlag(part)));
            rights.ContactData.ShouldBe(roles.Aggregate(Reach.None, (all, r) => all | r.ContactData));
            rights.OwnOnly.ShouldBe(roles.Where(r => r.May.Contains(Act.WorkLeads) || r.May.Contains(Act.WorkDeals) || r.May.Contains(Act.HandOver)).All(r => r.OwnOnly));
            rights.ChangesPersonalData.ShouldBe(roles.Any(r => r.PersonalData && r.ChangesPersonalData));
            rights.CostData.ShouldBe(roles.Any(r => r.CostData));
            rights.ChangesCostData.ShouldBe(roles.Any(r => r.CostData && r.ChangesCostData));
        }
    }

    private static RoleDefinition Drawn(Random random, int n) =>
        new()
        {
            Key = $"r{n}",
            Name = $"R{n}",
            May = [.. ActTable.All.Select(a => a.Act).Where(_ => random.Next(3) == 0)],
            Sees = RoleDefinition.Kinds.ToImmutableSortedDictionary(k => k, _ => (Reach)random.Next(64)),
            ContactData = (Reach)random.Next(64),
            OwnOnly = random.Next(2) == 0,
            PersonalData = random.Next(2) == 0,
            ChangesPersonalData = random.Next(2) == 0,
            CostData = random.Next(2) == 0,
            ChangesCostData = random.Next(2) == 0,
        };

    /// <summary>The answer names a reason exactly where the record is seen, and each reason is a part that some role gives.</summary>
    [Fact]
    public void TheReasonsAreTheComputation()
    {
        var random = new Random(7);
        for (var i = 0; i < 1000; i++)
        {
            var rights = new UserRights([Drawn(random, 0), Drawn(random, 1)]);
            var standing = new Standing(random.Next(2) == 0, random.Next(2) == 0, random.Next(2) == 0, random.Next(2) == 0, random.Next(2) == 0);
            var answer = RightsAnswer.Of(rights, "deal", standing);
            var reach = rights.Sees("deal");
            answer.Sees.ShouldBe(
                reach.HasFlag(Reach.All)
                    || reach.HasFlag(Reach.Own) && standing.IsOwn
                    || reach.HasFlag(Reach.Team) && standing.IsOfTeam
                    || reach.HasFlag(Reach.Reports) && standing.IsOfReports
                    || reach.HasFlag(Reach.Unowned) && !standing.HasOwner
                    || reach.HasFlag(Reach.Shared) && standing.IsShared
            );
            answer.Record.Where(p => p.Roles.Length > 0).Select(p => p.Part).ShouldBe(Parts.Where(p => reach.HasFlag(p)), ignoreOrder: true);
            if (!answer.Sees)
                answer.SeesContactData.ShouldBeFalse();
        }
    }

    private static RoleDefinition Role(params Act[] may) =>
        new()
        {
            Key = "own",
            Name = "Own",
            May = [.. may],
            Sees = ImmutableSortedDictionary<string, Reach>.Empty.Add("lead", Reach.Own),
        };

    [Fact]
    public void ARoleThatCannotBeIsRefusedWithTheReason()
    {
        Role(Act.WorkLeads).Check().ShouldBeNull();
        Role(Act.WorkDeals).Check()!.Words.ShouldBe("To “work accounts, contacts and deals” one has to “see accounts, contacts or deals”, too.");
        Role(Act.TakeLeads).Check()!.Code.ShouldBe("role-act-needs");
        Role(Act.RunIntake).Check()!.Code.ShouldBe("role-act-needs");
        Role(Act.SeeDesk).Check()!.Code.ShouldBe("role-act-unknown");
        (Role(Act.WorkLeads) with { Name = "" }).Check()!.Code.ShouldBe("name-missing");
        (Role(Act.WorkLeads) with { Name = new string('x', 61) }).Check()!.Code.ShouldBe("name-missing");
        (Role() with { GivenLeads = true }).Check()!.Code.ShouldBe("role-works");
        (Role() with { Sees = ImmutableSortedDictionary<string, Reach>.Empty.Add("quote", Reach.All) }).Check()!.Code.ShouldBe("role-kind-unknown");
        (Role() with { ContactData = (Reach)64 }).Check()!.Code.ShouldBe("role-reach-unknown");
        (ShippedRoles.Find(ShippedRoles.Administrator)! with { May = [Act.SeeLog] }).Check()!.Code.ShouldBe("role-administers");
    }
}
