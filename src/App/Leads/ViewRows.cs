using System.Collections.Immutable;
using DapperLantern.App.Data;
using DapperLantern.Core.Conditions;

namespace DapperLantern.App.Leads;

/// <summary>A saved way to look at leads.</summary>
public sealed class ViewRow
{
    public const string Personal = "personal";
    public const string Shared = "shared";
    public const string Fixed = "fixed";

    public Guid Id { get; set; }
    public string Name { get; set; } = "";

    /// <summary>Personal: its owner's alone. Shared: seen by its teams, changed by its owner. Fixed: seen by its teams, changed by coordinators.</summary>
    public string Scope { get; set; } = Personal;

    /// <summary>Who made it; null for one that came with the workspace.</summary>
    public Guid? OwnerId { get; set; }

    /// <summary>Keys of the teams that see it; empty for everybody.</summary>
    public string[] Teams { get; set; } = [];

    /// <summary>What its teams may do in it, for a fixed one: see <see cref="ViewAct"/>.</summary>
    public string[] Acts { get; set; } = [];

    /// <summary>JSON of a <see cref="ViewBody"/>.</summary>
    public string Body { get; set; } = "{}";
    public int Position { get; set; }
    public int Version { get; set; } = 1;
}

/// <summary>What a fixed view lets its teams do with the leads in it, beside what their roles let them.</summary>
public static class ViewAct
{
    public const string Give = "give";
    public const string Delete = "delete";
    public const string HandOver = "hand_over";
    public const string Export = "export";

    public static ImmutableArray<string> All { get; } = [Give, Delete, HandOver, Export];
}

/// <summary>A condition one adds to a view with a press.</summary>
public sealed record QuickCondition([Text(60)] string Label, Condition Where);

/// <param name="Width">In pixels; null for as wide as fits.</param>
public sealed record ViewColumn([Text(100)] string Field, [Between(40, 2_000)] int? Width = null);

/// <summary>What a view shows, and how.</summary>
/// <param name="Order">As in <see cref="Core.Leads.ListOrder"/>.</param>
/// <param name="Group">As in <see cref="Core.Leads.Grouping"/>; null for none.</param>
/// <param name="Dense">Rows of 34 pixels instead of 60.</param>
public sealed record ViewBody(
    Condition Where,
    [Text(1_000)] string Order,
    [Count(20)] IReadOnlyList<ViewColumn> Columns,
    [Text(100)] string? Group = null,
    bool Dense = false,
    [Count(12)] IReadOnlyList<QuickCondition>? Quick = null
);
