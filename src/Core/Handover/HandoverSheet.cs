using System.Collections.Immutable;
using DapperLantern.Core.Fields;

namespace DapperLantern.Core.Handover;

/// <summary>One known fact with the place where it lands.</summary>
/// <param name="Existing">What the record it lands on says now, when it exists and says something; in shown form.</param>
/// <param name="Differs">True when that is not the same; ours stays unless the person takes the lead's.</param>
public sealed record LandingLine(string Field, string Label, string Value, string Stored, Landing On, string? Existing, bool Differs);

/// <summary>Where each known fact of a lead lands. <see cref="Lines"/> holds every known fact once: none is lost.</summary>
/// <param name="MakesAccount">False for a private person: contact and deal only.</param>
public sealed record HandoverSheet(string DealName, bool MakesAccount, ImmutableArray<LandingLine> Lines);

/// <summary>What is already there: stored facts of the matched contact and account, by field key.</summary>
public sealed record HandoverTargets(IReadOnlyDictionary<string, string>? Contact, IReadOnlyDictionary<string, string>? Account);

/// <summary>Lays a lead's facts out over the records they become.</summary>
public static class HandoverPlanner
{
    // What the program knows by itself is bound to the lead: what it scored and how it stood. That stays readable on the lead, which is never deleted; where it came from goes along.
    private static bool IsOfTheLead(FieldDefinition field) => field.Origin == FieldOrigin.System && field.Key is not ("source" or "campaign");

    /// <param name="closes">Month of the expected close, for the deal's name.</param>
    public static HandoverSheet Plan(RecordValues lead, HandoverTargets targets, NodaTime.YearMonth closes)
    {
        var makesAccount = lead["company"].IsKnown;
        var lines = lead.Known().Where(k => !IsOfTheLead(k.Field)).Select(k => Line(k.Field, k.Value, makesAccount, targets));
        return new HandoverSheet(DealName(lead, closes), makesAccount, [.. lines]);
    }

    /// <summary>The convention: who, what, when. "Fjordnær Laks, oxygen probes, March 2027".</summary>
    public static string DealName(RecordValues lead, NodaTime.YearMonth closes)
    {
        var person = $"{lead.Text("first_name")} {lead.Text("last_name")}".Trim();
        var who = lead.Text("company") ?? (person.Length > 0 ? person : lead.Text("email") ?? "Unnamed");
        var when = closes.ToString("MMMM uuuu", System.Globalization.CultureInfo.InvariantCulture);
        var what = lead.Text("wants") is { } wants ? Short(wants) : null;
        return string.Join(", ", new[] { who, what, when }.Where(p => p is not null));
    }

    private static LandingLine Line(FieldDefinition field, FieldValue value, bool makesAccount, HandoverTargets targets)
    {
        var on = field.Lands == Landing.Account && !makesAccount ? Landing.Contact : field.Lands;
        var existing = on switch
        {
            Landing.Contact => targets.Contact?.GetValueOrDefault(field.Key),
            Landing.Account => targets.Account?.GetValueOrDefault(field.Key),
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

    private static bool SameFact(string field, string a, string b) => field == "company" ? Folding.Company(a) == Folding.Company(b) : Folding.Plain(a) == Folding.Plain(b);

    private static string Short(string text) => text.Length <= 40 ? text : text[..text.LastIndexOf(' ', 40).AtLeast(20)];

    private static int AtLeast(this int position, int least) => Math.Max(position, least);
}
