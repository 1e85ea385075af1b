using DapperLantern.App.Data;
using DapperLantern.App.Setup;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Routing;

public sealed class TeamRow
{
    public string Key { get; set; } = "";
    public string Name { get; set; } = "";

    /// <summary>True to pass over who is not at work just now.</summary>
    public bool OnlyInHours { get; set; }
}

/// <summary>
/// A person's place in a team's rotation; see <see cref="Core.Routing.Turn"/>. The rotations of all who serve a country stand here too, under keys that no team
/// has: <see cref="Core.Routing.Team.ServingPrefix"/>.
/// </summary>
public sealed class TurnRow
{
    public string TeamKey { get; set; } = "";
    public Guid PersonId { get; set; }
    public int Position { get; set; }
    public int Weight { get; set; }
    public long Credit { get; set; }
}

/// <summary>Why a lead got the owner it got: the trace as it was made, with the edition that made it.</summary>
public sealed class RoutingDecisionRow
{
    public Guid Id { get; set; }
    public Guid LeadId { get; set; }
    public DateTime At { get; set; }
    public Guid Edition { get; set; }
    public string? Rule { get; set; }
    public Guid? OwnerId { get; set; }

    /// <summary>JSON list of trace lines.</summary>
    public string Trace { get; set; } = "[]";

    /// <summary>One of <see cref="Core.Routing.RoutingMoment"/>, or "hand" where somebody decided it.</summary>
    public string Moment { get; set; } = Core.Routing.RoutingMoment.Arrival;

    /// <summary>JSON: what the sheet asked of the lead, as it was then, by field.</summary>
    public string Asked { get; set; } = "{}";
}

/// <summary>How many open leads a person has, kept by triggers on <c>lead</c>, so that routing never counts a million rows.</summary>
public sealed class RepLoadRow
{
    public Guid PersonId { get; set; }
    public int Open { get; set; }
}

/// <summary>A time somebody is away, with who takes their leads meanwhile.</summary>
public sealed class AbsenceRow
{
    public Guid Id { get; set; }
    public Guid PersonId { get; set; }
    public DateTime Starts { get; set; }

    /// <summary>The first moment of being back.</summary>
    public DateTime Ends { get; set; }
    public Guid? StandInId { get; set; }
    public string Why { get; set; } = "";
}

/// <summary>A list of holidays, by which people do not work.</summary>
public sealed class HolidayCalendarRow
{
    public string Key { get; set; } = "";
    public string Name { get; set; } = "";
}

public sealed class HolidayRow
{
    public string CalendarKey { get; set; } = "";
    public DateOnly Day { get; set; }
    public string Name { get; set; } = "";
}

public static class RoutingMapping
{
    public static void MapRoutingRows(this ModelBuilder builder)
    {
        builder.Map<TeamRow>("team", t => t.HasKey(x => x.Key));
        builder.Map<RepLoadRow>("rep_load", r => r.HasKey(x => x.PersonId));
        builder.Map<TurnRow>("turn", t => t.HasKey(x => new { x.TeamKey, x.PersonId }));
        builder.Map<RoutingDecisionRow>(
            "routing_decision",
            d =>
            {
                d.Property(x => x.Trace).HasColumnType("jsonb");
                d.Property(x => x.Asked).HasColumnType("jsonb").HasDefaultValueSql("'{}'");
                d.Property(x => x.Moment).HasDefaultValue(Core.Routing.RoutingMoment.Arrival);
                d.HasIndex(x => new { x.LeadId, x.At });
                d.HasIndex(x => new { x.OwnerId, x.At });
            }
        );
        builder.Map<AbsenceRow>(
            "absence",
            a =>
            {
                a.HasKey(x => x.Id);
                a.HasIndex(x => new { x.PersonId, x.Ends });
                a.HasOne<Person>().WithMany().HasForeignKey(x => x.PersonId).OnDelete(DeleteBehavior.Cascade);
                a.HasOne<Person>().WithMany().HasForeignKey(x => x.StandInId).OnDelete(DeleteBehavior.SetNull);
                a.ToTable(t => t.HasCheckConstraint("ck_absence_forward", "ends > starts"));
                a.ToTable(t => t.HasCheckConstraint("ck_absence_stand_in", "stand_in_id is distinct from person_id"));
            }
        );
        builder.Map<HolidayCalendarRow>("holiday_calendar", c => c.HasKey(x => x.Key));
        builder.Map<HolidayRow>(
            "holiday",
            h =>
            {
                h.HasKey(x => new { x.CalendarKey, x.Day });
                h.HasOne<HolidayCalendarRow>().WithMany().HasForeignKey(x => x.CalendarKey).OnDelete(DeleteBehavior.Cascade);
            }
        );
    }
}
