using System.Collections.Frozen;
using System.Collections.Immutable;
using NodaTime;

namespace DapperLantern.Core.Routing;

/// <summary>A rep as routing sees one at a moment.</summary>
/// <param name="Open">Open leads the rep has now.</param>
/// <param name="Capacity">Most open leads; at or over it the rep is full.</param>
public sealed record Rep(Guid Id, string SignIn, string Name, bool Away, int Open, int Capacity)
{
    /// <summary>False for somebody who works here no more.</summary>
    public bool Here { get; init; } = true;

    /// <summary>When an absence ends; null when the rep is not away.</summary>
    public Instant? AwayUntil { get; init; }

    /// <summary>Who takes what would come to the rep while away.</summary>
    public Guid? StandIn { get; init; }

    /// <summary>True within the rep's own working hours.</summary>
    public bool Working { get; init; } = true;

    /// <summary>Leads given today, by the rep's own day, and the most to be given; null for no such limit.</summary>
    public int Today { get; init; }
    public int? CapacityToday { get; init; }

    /// <summary>Keys of languages and skills.</summary>
    public FrozenSet<string> Languages { get; init; } = [];
    public FrozenSet<string> Skills { get; init; } = [];

    /// <summary>Countries (ISO 3166) and regions (ISO 3166-2) the rep serves.</summary>
    public FrozenSet<string> Serves { get; init; } = [];

    public bool Full => Open >= Capacity;
    public bool FullToday => Today >= CapacityToday;

    /// <summary>True when the rep serves the place, or, with the region not known, some part of the country.</summary>
    public bool ServesPlace(string country, string? region) =>
        Serves.Contains(country) || (region is null ? Serves.Any(s => s.StartsWith(country + "-", StringComparison.Ordinal)) : Serves.Contains(region));

    /// <summary>The rep with one lead more.</summary>
    public Rep WithOneMore() => this with { Open = Open + 1, Today = Today + 1 };
}

/// <summary>A team with its rotation.</summary>
public sealed record Team(string Key, string Name, ImmutableArray<Turn> Turns)
{
    /// <summary>True to pass over who is not at work just now.</summary>
    public bool OnlyInHours { get; init; }

    /// <summary>Begins the keys of the rotations of all who serve a country: <c>serves:US</c>.</summary>
    public const string ServingPrefix = "serves:";
}

/// <summary>What a lead needs of whoever gets it. All null or empty for nothing.</summary>
public sealed record LeadNeeds(string? Language, ImmutableArray<string> Skills, string? Country, string? Region, bool InHours, Guid? NotAgain)
{
    public static LeadNeeds None { get; } = new(null, [], null, null, false, null);

    /// <summary>Why a rep cannot take the lead now; <see cref="PassOver.No"/> when one can.</summary>
    public PassOver Refuses(Rep? rep)
    {
        if (rep is not { Here: true })
            return PassOver.Gone;
        if (rep.Id == NotAgain)
            return PassOver.HadIt;
        if (rep.Away)
            return PassOver.Away;
        if (Country is not null && !rep.ServesPlace(Country, Region))
            return PassOver.Place;
        if (Language is not null && !rep.Languages.Contains(Language))
            return PassOver.Language;
        foreach (var skill in Skills)
            if (!rep.Skills.Contains(skill))
                return PassOver.Skill;
        return rep.Full ? PassOver.Full
            : rep.FullToday ? PassOver.FullToday
            : InHours && !rep.Working ? PassOver.OffHours
            : PassOver.No;
    }

    /// <summary>The same for somebody named, who gets it even when full: who names a person means it. Only who is away, or lacks what is asked for, does not.</summary>
    public PassOver RefusesNamed(Rep rep) => Refuses(rep) is var why and not (PassOver.Full or PassOver.FullToday or PassOver.OffHours) ? why : PassOver.No;
}

/// <summary>Why somebody is passed over.</summary>
public enum PassOver : byte
{
    No,
    Gone,
    HadIt,
    Away,
    Place,
    Language,
    Skill,
    Full,
    FullToday,
    OffHours,
}
