using System.Collections.Frozen;
using System.Collections.Immutable;
using DapperLantern.Core.Conditions;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Routing.Checking;
using DapperLantern.Core.Scoring;

namespace DapperLantern.Core.Routing;

/// <summary>Something a rule sheet should not have.</summary>
/// <param name="Problem">Its path is a place in the sheet: <c>rules/3</c>, <c>rules/3/to</c>, <c>columns/1</c>.</param>
/// <param name="Blocks">True when the sheet cannot go live with it.</param>
/// <param name="Others">Places of the other rules concerned, from 0.</param>
public sealed record SheetFinding(Problem Problem, bool Blocks, ImmutableArray<int> Others)
{
    public string Words => Problem.Words;
}

/// <summary>Leads that no rule takes.</summary>
/// <param name="Where">What they have in common; it holds of no lead that a rule takes at these moments.</param>
/// <param name="Moments">The moments at which; empty for all.</param>
/// <param name="Example">One of them, made up: stored values by field, without those that are not known.</param>
public sealed record SheetHole(Condition Where, ImmutableArray<string> Moments, ImmutableArray<(string Field, string Value)> Example);

/// <param name="Whole">False when the sheet is so tangled that it could not be checked to the end; what is found still holds.</param>
public sealed record SheetReport(ImmutableArray<SheetFinding> Findings, ImmutableArray<SheetHole> Holes, bool Whole)
{
    /// <summary>The first that keeps the sheet from going live; null when none does.</summary>
    public SheetFinding? Blocking => Findings.FirstOrDefault(f => f.Blocks);
}

/// <summary>Somebody a sheet may name.</summary>
/// <param name="StandIn">Sign-in name of who stands in while away.</param>
public sealed record StaffPerson(string SignIn, string Name, bool Here, bool HasHours, string? StandIn, FrozenSet<string> Serves);

/// <summary>Who is there for a sheet to send leads to.</summary>
/// <param name="Teams">Sign-in names of the members by key of the team.</param>
public sealed record SheetStaff(FrozenDictionary<string, StaffPerson> Persons, FrozenDictionary<string, ImmutableArray<string>> Teams, FrozenSet<string> Skills);

/// <summary>
/// Holds a rule sheet against the catalogue, the staff and itself, and finds every rule that can never be reached, every overlap, every hole and every contradiction,
/// and none that is not there: each rule takes a box of the space of all leads, and the boxes before it are taken away from it in order.
/// </summary>
public static class SheetCheck
{
    public const int MostRules = 500;
    public const int MostColumns = 24;
    public const int MostHoles = 12;

    private const int MostOverlaps = 5;

    /// <param name="bars">Of the live scoring model; null where there is none.</param>
    public static SheetReport Check(RuleSheet sheet, FieldCatalogue catalogue, SheetStaff staff, Bars? bars)
    {
        var findings = SheetForm.Check(sheet, catalogue, staff).ToList();
        // What cannot be read takes no leads, so it is left out of the space.
        var readable = Enumerable.Range(0, Math.Min(sheet.Rules.Length, MostRules)).Where(i => SheetForm.IsReadable(sheet.Rules[i], catalogue)).ToImmutableArray();
        if (findings.Any(f => f.Problem.Code is "text-mixed" or "date-mixed" or "sheet-too-wide" or "too-many-rules"))
            return new SheetReport([.. findings], [], true);
        // Where a lead stays with whom it is, no rule is no hole: as if a last rule took it.
        var stays = new Rule("", "", Condition.Always, new RuleOutcome { Keep = true }) { Moments = [.. RoutingMoment.Choices.Select(c => c.Key).Where(RoutingMoment.Stays)] };
        var space = SpaceBuilder.Build(sheet, [.. readable.Select(i => sheet.Rules[i]), stays], catalogue, bars, MostHoles);
        var check = new RuleGeometry(space, sheet, readable);
        try
        {
            findings.AddRange(check.Rules());
            return new SheetReport(InOrder(findings), [.. check.Holes()], true);
        }
        catch (CheckBudgetExceededException)
        {
            return new SheetReport(InOrder(findings), [], false);
        }
    }

    /// <summary>Only what can be said line by line, without the space.</summary>
    public static IEnumerable<SheetFinding> Form(RuleSheet sheet, FieldCatalogue catalogue, SheetStaff staff) => SheetForm.Check(sheet, catalogue, staff);

    private static ImmutableArray<SheetFinding> InOrder(List<SheetFinding> findings) => [.. findings.OrderBy(f => RuleOf(f.Problem.Path)).ThenBy(f => !f.Blocks)];

    private static int RuleOf(string path) => path.Split('/') is ["rules", var at, ..] && int.TryParse(at, out var rule) ? rule : -1;

    private sealed class RuleGeometry(Space space, RuleSheet sheet, ImmutableArray<int> places)
    {
        public IEnumerable<SheetFinding> Rules()
        {
            var met = Enumerable.Range(0, places.Length).Select(space.Meeting).ToArray();
            for (var rule = 0; rule < places.Length; rule++)
            {
                if (!met[rule][rule])
                {
                    yield return Impossible(rule);
                    continue;
                }
                var before = space.Of(met[rule].Members.Where(m => m < rule && met[m][m]));
                if (before.IsEmpty)
                    continue;
                if (space.Find(space.Of([rule]), before) is null)
                    yield return Finding("rule-covered", rule, Covering(rule, before));
                else if (Crossing(rule, before, met) is { Count: > 0 } crossing)
                    yield return Finding("rules-overlap", rule, crossing);
            }
        }

        private SheetFinding Impossible(int rule)
        {
            var axis = space.Axes.First(a => !a.Meeting(rule)[rule]);
            return axis.Fields[0] == SpaceBuilder.Moment ? Finding("rule-no-moment", rule, []) : Finding("rule-impossible", rule, [], true);
        }

        // As few of the rules before it as cover it: each is left out that the others can do without, the nearest first.
        private List<int> Covering(int rule, Mask before)
        {
            var needed = before;
            foreach (var one in before.Members.Reverse())
                if (space.Find(space.Of([rule]), needed - space.Of([one])) is null)
                    needed -= space.Of([one]);
            return [.. needed.Members];
        }

        // Earlier rules that take a part of what this one asks, are no special case of it, send it elsewhere, and are really what decides there.
        private List<int> Crossing(int rule, Mask before, Mask[] met)
        {
            var crossing = new List<int>();
            foreach (var one in before.Members.Reverse())
            {
                if (crossing.Count == MostOverlaps)
                    break;
                if (SameEnd(one, rule) || space.Covers(rule, one))
                    continue;
                var earlier = space.Of(met[one].Members.Where(m => m < one && met[m][m] && met[rule][m]));
                if (space.Find(space.Of([one, rule]), earlier) is not null)
                    crossing.Add(one);
            }
            crossing.Reverse();
            return crossing;
        }

        private bool SameEnd(int a, int b)
        {
            var (one, other) = (sheet.Rules[places[a]], sheet.Rules[places[b]]);
            return one.AnswerWithinMinutes == other.AnswerWithinMinutes && one.Task == other.Task && one.Urgent == other.Urgent && SameOutcome(one.To, other.To);
        }

        private static bool SameOutcome(RuleOutcome? a, RuleOutcome? b) =>
            a is null || b is null
                ? a == b
                : (a.Person, a.Team, a.Hold, a.Serving, a.Keep, a.Speaking) == (b.Person, b.Team, b.Hold, b.Serving, b.Keep, b.Speaking)
                    && a.Skills.SequenceEqual(b.Skills)
                    && SameOutcome(a.Else, b.Else);

        private SheetFinding Finding(string code, int rule, List<int> others, bool blocks = false)
        {
            var named = others.Select(o => places[o]).ToImmutableArray();
            return new SheetFinding(new Problem(code, $"rules/{places[rule]}", string.Join(", ", named.Select(o => o + 1))), blocks, named);
        }

        public IEnumerable<SheetHole> Holes()
        {
            for (var found = 0; found < MostHoles && space.NextHole() is var (lead, hole); found++)
                yield return new SheetHole(Where(hole), MomentsOf(hole), Example(lead));
        }

        private Condition Where(Hole hole)
        {
            var parts = ImmutableArray.CreateBuilder<Condition>();
            for (var at = 1; at < space.Axes.Length; at++)
                foreach (var rule in Widest(space.Axes[at], [.. hole.Outside[at].Members.Where(m => m < places.Length)]))
                    parts.Add(new Not(Taken(rule, space.Axes[at].Fields)));
            return parts.Count == 1 ? parts[0] : new AllOf(parts.ToImmutable());
        }

        // Who lies outside of a part lies outside of all within it, so that need not be said.
        private static IEnumerable<int> Widest(Axis axis, List<int> rules) => rules.Where(r => !rules.Any(o => o != r && axis.Covers(o, r) && (o < r || !axis.Covers(r, o))));

        // What a rule takes of an axis.
        private Condition Taken(int rule, ImmutableArray<string> fields)
        {
            var cells = RuleCells.Of(sheet.Rules[places[rule]].When).Cells;
            Condition[] asked = [.. fields.Where(cells.ContainsKey).Select(f => cells[f])];
            return asked is [var only] ? only : new AllOf([.. asked]);
        }

        private ImmutableArray<string> MomentsOf(Hole hole) =>
            hole.Outside[0].IsEmpty
                ? []
                :
                [
                    .. sheet
                        .Moments.Prepend(RoutingMoment.Arrival)
                        .Distinct()
                        .Where(m => hole.Outside[0].Members.All(r => r < places.Length ? !sheet.Rules[places[r]].HoldsAt(m) : !RoutingMoment.Stays(m))),
                ];

        private static ImmutableArray<(string, string)> Example(AxisPoint[] lead) =>
            [.. lead.SelectMany(p => p.Values).Where(v => v.Value.IsKnown).Select(v => (v.Field, v.Value.ToString()))];
    }
}
