using DapperLantern.Core.Fields;
using DapperLantern.Core.People;

namespace DapperLantern.Core.Tests.People;

/// <summary>People read out of lines.</summary>
public sealed class PeopleTextTests
{
    private static readonly Choice[] Roles = [new("rep", "Rep"), new("manager", "Manager"), new("coordinator", "Coordinator")];
    private static readonly Choice[] Teams = [new("north", "North"), new("south-coast", "South coast")];

    private static NamedPerson One(string line) => PeopleText.Read(line, Roles, Teams).ShouldHaveSingleItem();

    [Theory]
    [InlineData("Ane Lie; ane@fjell.example")]
    [InlineData("Ane Lie, ane@fjell.example")]
    [InlineData("Ane Lie\tane@fjell.example")]
    [InlineData("ane@fjell.example; Ane Lie")]
    [InlineData("Ane Lie <ANE@fjell.example>")]
    [InlineData("\"Ane Lie\" <ane@fjell.example>")]
    [InlineData("Ane Lie ane@fjell.example")]
    [InlineData("Lie, Ane, ane@fjell.example")]
    [InlineData("  Ane  Lie ;; ane@fjell.example ; ")]
    public void ANameAndAnAddressAreReadInWhateverForm(string line)
    {
        var read = One(line);
        (read.Problem, read.Name, read.Email, read.Role).ShouldBe((null, "Ane Lie", "ane@fjell.example", null));
    }

    [Fact]
    public void RoleAndTeamsStandInAnyOrder()
    {
        var read = One("north\tane@fjell.example\tmanager\tAne Lie\tSouth coast");
        (read.Problem, read.Name, read.Role).ShouldBe((null, "Ane Lie", "manager"));
        read.Teams.ShouldBe(["north", "south-coast"]);
    }

    [Fact]
    public void AHeadingAndEmptyLinesArePassedOver()
    {
        var read = PeopleText.Read("Name;Email;Role\r\n\r\nAne Lie;ane@fjell.example;Rep\r\nOdd Vik;odd@fjell.example\r\n", Roles, Teams);
        read.Select(p => (p.Line, p.Name)).ShouldBe([(3, "Ane Lie"), (4, "Odd Vik")]);
        PeopleText.Read("", Roles, Teams).ShouldBeEmpty();
    }

    [Theory]
    [InlineData("Ane Lie", "email-missing-in-line")]
    [InlineData("Ane Lie; ane@", "email-unreadable")]
    [InlineData("ane@fjell.example", "name-missing-in-line")]
    [InlineData("Ane Lie; ane@fjell.example; Captain", "piece-unknown")]
    public void WhatCannotBeReadIsSaid(string line, string problem) => One(line).Problem!.Code.ShouldBe(problem);

    [Fact]
    public void OfTooManyNoneIsReadInSilence()
    {
        var text = string.Join('\n', Enumerable.Range(0, PeopleText.MostLines + 1).Select(i => $"Ane Lie; ane{i}@fjell.example"));
        PeopleText.Read(text, Roles, Teams).ShouldHaveSingleItem().Problem!.Code.ShouldBe("people-many");
        PeopleText.Read(text[..text.LastIndexOf('\n')], Roles, Teams).Length.ShouldBe(PeopleText.MostLines);
    }

    [Fact]
    public void TheSameAddressTwiceIsSaidOfTheSecond()
    {
        var read = PeopleText.Read("Ane Lie;ane@fjell.example\nAne L;Ane@fjell.example", Roles, Teams);
        read.Select(p => p.Problem?.Code).ShouldBe([null, "person-twice"]);
    }
}
