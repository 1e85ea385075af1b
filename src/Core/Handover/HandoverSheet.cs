using System.Collections.Immutable;
using DapperLantern.Core.Fields;

namespace DapperLantern.Core.Handover;

/// <summary>What becomes of one known fact of a lead.</summary>
public enum Settled
{
    /// <summary>It is written where nothing stood, or stood the same.</summary>
    Carried,

    /// <summary>It replaces what stood there, because the person said so.</summary>
    Taken,

    /// <summary>What stood there stays, and the lead's value stays readable on the lead.</summary>
    KeepExisting,

    /// <summary>It is left behind because the person said so.</summary>
    Dropped,
}

/// <summary>One known fact with the place where it lands.</summary>
/// <param name="Existing">What the record it lands on says now, when it exists and says something; in shown form.</param>
/// <param name="Differs">True when that is not the same; ours stays unless the person takes the lead's.</param>
public sealed record LandingLine(string Field, string Label, string Value, string Stored, TargetRecord On, string? Existing, bool Differs)
{
    /// <summary>What becomes of it, by what the person chose.</summary>
    /// <param name="take">Keys where the lead's value replaces that of the existing record.</param>
    /// <param name="drop">Keys that are left behind.</param>
    public Settled Settle(IReadOnlyCollection<string> take, IReadOnlyCollection<string> drop) =>
        drop.Contains(Field) ? Settled.Dropped
        : !Differs ? Settled.Carried
        : take.Contains(Field) ? Settled.Taken
        : Settled.KeepExisting;
}

/// <summary>What becomes of a lead that has, or has not, an organisation.</summary>
public enum AccountKind
{
    /// <summary>Contact and deal only.</summary>
    None,
    Organisation,
    Household,
}

/// <summary>Where each known fact of a lead lands. <see cref="Lines"/> holds every known fact once: none is lost.</summary>
/// <param name="AccountName">What a new account would be called; null when none is made.</param>
public sealed record HandoverSheet(AccountKind Makes, string? AccountName, ImmutableArray<LandingLine> Lines);

/// <summary>What is already there: stored facts of the matched contact and account, by field key.</summary>
public sealed record HandoverTargets(IReadOnlyDictionary<string, string>? Contact, IReadOnlyDictionary<string, string>? Account);

/// <summary>A fact that did not arrive as it was: left behind on purpose, or not taken over what stood there.</summary>
public sealed record FactLeft(string Field, string Label, string Value, Settled How);

/// <summary>What arrived, counted from what is really written.</summary>
/// <param name="Known">Facts the lead has.</param>
/// <param name="Found">Of these, found again at their place.</param>
/// <param name="Left">The others, each by a choice.</param>
public sealed record Carried(int Known, int Found, ImmutableArray<FactLeft> Left)
{
    /// <summary>True when every fact either arrived or was left by a choice.</summary>
    public bool IsWhole => Found + Left.Length == Known;
}

/// <summary>Lays a lead's facts out over the records they become.</summary>
public static class HandoverPlanner
{
    // What the program knows by itself is bound to the lead: what it scored and how it stood. That stays readable on the lead, which is never deleted; where it came from goes along.
    private static bool IsOfTheLead(FieldDefinition field) => field.Origin is FieldOrigin.System or FieldOrigin.Finding && field.Key is not ("source" or "campaign");

    /// <summary>The facts that have to arrive.</summary>
    public static IEnumerable<(FieldDefinition Field, FieldValue Value)> FactsOf(RecordValues lead) => lead.Known().Where(k => !IsOfTheLead(k.Field));

    /// <param name="makes">What account is wanted; null for an organisation where a company is known, else none.</param>
    /// <param name="along">True for one that comes along to another's deal: what would be the deal's stays with the contact.</param>
    public static HandoverSheet Plan(RecordValues lead, HandoverTargets targets, AccountKind? makes = null, bool along = false)
    {
        var kind = makes ?? (lead["company"].IsKnown ? AccountKind.Organisation : AccountKind.None);
        return new HandoverSheet(kind, AccountName(lead, kind), [.. FactsOf(lead).Select(k => Line(k.Field, k.Value, kind, targets, along))]);
    }

    /// <summary>The company; for a household the family's name.</summary>
    private static string? AccountName(RecordValues lead, AccountKind kind) =>
        kind switch
        {
            AccountKind.None => null,
            AccountKind.Household => $"Household {lead.Text("last_name") ?? PersonOf(lead) ?? "without a name"}",
            _ => lead.Text("company") ?? PersonOf(lead) ?? lead.Text("email") ?? "Account without a name",
        };

    /// <summary>First and last name; null when neither is known.</summary>
    public static string? PersonOf(RecordValues lead) => $"{lead.Text("first_name")} {lead.Text("last_name")}".Trim() is { Length: > 0 } name ? name : null;

    /// <summary>Holds what was written against what the lead knows.</summary>
    /// <param name="written">Stored facts of each record by field key, and source and campaign of the deal among the deal's.</param>
    public static Carried Count(
        RecordValues lead,
        HandoverSheet sheet,
        IReadOnlyDictionary<TargetRecord, IReadOnlyDictionary<string, string>> written,
        IReadOnlyCollection<string> take,
        IReadOnlyCollection<string> drop
    )
    {
        var lines = sheet.Lines.ToDictionary(l => l.Field);
        var (known, found, left) = (0, 0, new List<FactLeft>());
        foreach (var (field, value) in FactsOf(lead))
        {
            known++;
            var line = lines.GetValueOrDefault(field.Key);
            var how = line?.Settle(take, drop);
            if (how is Settled.Dropped or Settled.KeepExisting)
                left.Add(new FactLeft(field.Key, field.Label, line!.Value, how.Value));
            else if (line is not null && written.GetValueOrDefault(line.On)?.GetValueOrDefault(field.Key) is { } there && SameFact(field.Key, there, value.ToString()))
                found++;
        }
        return new Carried(known, found, [.. left]);
    }

    private static LandingLine Line(FieldDefinition field, FieldValue value, AccountKind makes, HandoverTargets targets, bool along)
    {
        var on = field.Lands == TargetRecord.Account && makes == AccountKind.None || field.Lands == TargetRecord.Deal && along ? TargetRecord.Contact : field.Lands;
        var existing = on switch
        {
            TargetRecord.Contact => targets.Contact?.GetValueOrDefault(field.Key),
            TargetRecord.Account => targets.Account?.GetValueOrDefault(field.Key),
            _ => null,
        };
        var stored = value.ToString();
        return new LandingLine(
            field.Key,
            field.Label,
            field.Show(stored),
            stored,
            on,
            existing is null ? null : field.Show(existing),
            existing is not null && !SameFact(field.Key, existing, stored)
        );
    }

    private static bool SameFact(string field, string a, string b) =>
        field == "company" ? Folding.Company(a) == Folding.Company(b) : Folding.Plain(a) == Folding.Plain(b) && (a == b || Folding.Plain(a).Length > 0);
}
