using System.Globalization;
using System.Text.RegularExpressions;
using DapperLantern.App.Data;
using DapperLantern.App.Rights;
using DapperLantern.App.Scoring;
using DapperLantern.Core.Conditions;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Scoring;
using Npgsql;
using NpgsqlTypes;

namespace DapperLantern.App.Leads;

/// <summary>
/// The SQL reading of the condition language over the table <c>lead</c> under the alias <c>l</c>. Values only ever travel as
/// parameters; column names come from the catalogue. Gives the same answer as <see cref="ConditionPredicate"/> (held by a test).
/// Contact data that is not shown to the reader is unknown to the condition, too.
/// </summary>
/// <param name="scope">What the reader sees.</param>
public sealed partial class ConditionSql(FieldCatalogue catalogue, DateTime now, RecordScope scope)
{
    private const string Owner = "owner";

    private readonly List<NpgsqlParameter> _parameters = [];
    private string? _day;
    private string? _now;
    private string? _seen;
    private string? _shown;

    public IReadOnlyList<NpgsqlParameter> Parameters => _parameters;

    /// <returns>A boolean expression that is never null: that the reader sees the lead, and the condition holds of it.</returns>
    /// <exception cref="KeyNotFoundException">A field is not in the catalogue; run <see cref="ConditionCheck"/> first.</exception>
    public string Write(Condition condition) => $"({Sees} and {Clause(condition)})";

    /// <summary>That the reader sees the lead.</summary>
    public string Sees => _seen ??= Take(scope.Sees("lead", "l"));

    /// <summary>That contact data of the lead is shown to the reader.</summary>
    public string ShowsContactData => _shown ??= Take(scope.ShowsContactData("lead", "l"));

    private bool Hides(FieldDefinition field) => scope.HidesContactData && RecordScope.IsContactData(field);

    private string Clause(Condition condition) =>
        condition switch
        {
            AllOf { Parts.Length: 0 } => "true",
            AnyOf { Parts.Length: 0 } => "false",
            AllOf all => $"({string.Join(" and ", all.Parts.Select(Clause))})",
            AnyOf any => $"({string.Join(" or ", any.Parts.Select(Clause))})",
            Test test when scope.Hides(Asked(test)) => "false",
            // Said the way an index over what is missing is found by.
            Not { Part: Test { Operator: TestOperator.Known } test } when Asked(test) is { Many: false } field && !Hides(field) && !scope.Hides(field) =>
                $"({Stored(field)} is null)",
            Not not => $"(not {Clause(not.Part)})",
            Test test when Hides(Asked(test)) => $"({ShowsContactData} and {WriteTest(test, Asked(test))})",
            Test test => WriteTest(test, Asked(test)),
            _ => throw new InvalidOperationException($"no SQL for {condition.GetType().Name}"),
        };

    /// <summary>The SQL expression of a field as the reader sees it: null where it is kept from them.</summary>
    /// <exception cref="ArgumentException">The field has many values a lead.</exception>
    public string Column(FieldDefinition field) =>
        scope.Hides(field) ? $"(case when false then {Kept(field)} end)"
        : Hides(field) ? $"(case when {ShowsContactData} then {Kept(field)} end)"
        : Kept(field);

    private string Kept(FieldDefinition field) =>
        field.Origin switch
        {
            FieldOrigin.Finding => $"({LeadRecord.Finding(field with { Key = Safe(field.Key) })})",
            FieldOrigin.Related => RelatedLeadFields.Column(field, Text),
            FieldOrigin.Custom when field.IsNumeric => $"(l.custom->>'{Safe(field.Key)}')::numeric",
            FieldOrigin.Custom when field.Type == FieldType.Date => $"(l.custom->>'{Safe(field.Key)}')::timestamptz",
            FieldOrigin.Custom => $"(l.custom->>'{Safe(field.Key)}')",
            _ => field.Key switch
            {
                Owner => "l.owner_id::text",
                "engagement" => Engagement,
                "next_move" => EngagementDecaySql.MoveAt($"{Now:sql}").ToString(),
                _ => $"l.{Safe(field.Key)}",
            },
        };

    // As it is at the moment of asking; see docs/scoring.md.
    private string Engagement => $"engagement_at(l.decay, {Day})";

    private string Day => _day ??= Parameter(EngagementDecay.DayOf(now.ToInstant()), NpgsqlDbType.Double);

    private string Now => _now ??= Moment(now);

    /// <summary>Adds a parameter of our own, for the statement around the condition.</summary>
    public string Parameter(object value, NpgsqlDbType type)
    {
        var name = $"c{_parameters.Count}";
        _parameters.Add(new NpgsqlParameter(name, type) { Value = value });
        return $"@{name}";
    }

    // A part with parameters of its own, as text with parameters of ours.
    private string Take(SqlText part) => part.Text(Parameter);

    /// <summary>Text made here as part of a statement, with its parameters. It may be taken into several.</summary>
    internal SqlText Part(string text)
    {
        var part = new SqlText(text.Length, _parameters.Count);
        var at = 0;
        foreach (var name in Names().EnumerateMatches(text))
        {
            part.AppendLiteral(text[at..name.Index]);
            var parameter = _parameters[int.Parse(text.AsSpan(name.Index + 2, name.Length - 2), CultureInfo.InvariantCulture)];
            part.AppendFormatted(SqlText.Value(parameter.Value, parameter.NpgsqlDbType), "sql");
            at = name.Index + name.Length;
        }
        part.AppendLiteral(text[at..]);
        return part;
    }

    [GeneratedRegex(@"@c\d+")]
    private static partial Regex Names();

    private FieldDefinition Asked(Test test) => catalogue.Asked(test.Field) ?? throw new KeyNotFoundException(test.Field);

    // As it is kept, so that its index is used: the owner is shown as text and kept as a key.
    private string Stored(FieldDefinition field) => field.Key == Owner ? "l.owner_id" : Kept(field);

    private string WriteTest(Test test, FieldDefinition field)
    {
        if (field.Key == Owner && test.Operator is (TestOperator.In or TestOperator.Known))
            return test.Operator == TestOperator.Known ? "(l.owner_id is not null)" : $"(l.owner_id is not null and {OneOf("l.owner_id", Keys(test), NpgsqlDbType.Uuid)})";
        if (field.Key == "engagement" && WriteEngagement(test) is { } engaged)
            return engaged;
        if (field.Key == "next_move" && test.Operator == TestOperator.In)
            return $"({string.Join(" or ", test.Values.DefaultIfEmpty("").Select(WriteMove))})";
        if (field.Many)
        {
            var (rows, value) = RelatedLeadFields.Rows(field);
            return $"exists (select 1 from {rows} and {value} is not null and {Holds(test, field, value)})";
        }
        var column = Kept(field);
        // A sub-query is asked once, and no index is lost by it.
        return field.Origin == FieldOrigin.Related && test.Operator != TestOperator.Known
            ? $"coalesce({Holds(test, field, column)}, false)"
            : $"({column} is not null and {Holds(test, field, column)})";
    }

    // Engagement is kept in bands that hold until the lead is looked at again; only those in the band of the number asked for, or overdue, need computing.
    private string? WriteEngagement(Test test) =>
        test.Operator switch
        {
            TestOperator.Known => "true",
            TestOperator.AtLeast => EngagedFrom(Math.Ceiling(Number(test.Values[0]))),
            TestOperator.AtMost => $"(not {EngagedFrom(Math.Floor(Number(test.Values[0])) + 1)})",
            TestOperator.Between => $"({EngagedFrom(Math.Ceiling(Number(test.Values[0])))} and not {EngagedFrom(Math.Floor(Number(test.Values[1])) + 1)})",
            _ => null,
        };

    private string EngagedFrom(decimal score)
    {
        if (score <= 0)
            return "true";
        if (score > 100)
            return "false";
        var (least, sure, reached) = Engaged((int)score);
        return $"(l.band >= {least} and ((l.band >= {sure} and (l.look_again_at is null or l.look_again_at > {Now})) or {reached}))";
    }

    /// <summary>
    /// Conditions that together hold of whom an engagement test holds of, and no two of them of the same lead, so that they can be counted one by one: the first is told by its index alone, the
    /// others have to be computed for few. Null for other tests.
    /// </summary>
    public IReadOnlyList<string>? EngagedApart(Condition where)
    {
        if (where is not Test { Field: "engagement", Operator: TestOperator.AtLeast } test)
            return null;
        var score = Math.Ceiling(Number(test.Values[0]));
        if (score is <= 0 or > 100)
            return null;
        var (least, sure, reached) = Engaged((int)score);
        return
        [
            $"{Sees} and l.band >= {sure} and (l.look_again_at is null or l.look_again_at > {Now})",
            $"{Sees} and l.band >= {sure} and l.look_again_at <= {Now} and {reached}",
            $"{Sees} and l.band >= {least} and l.band < {sure} and {reached}",
        ];
    }

    // The band the score lies in, the first that is wholly over it, and whether it is reached. That is a question about the sum: it has to reach what saturates to half a point less. Each row has
    // its own knee, decay[1].
    private (string Least, string Sure, string Reached) Engaged(int score)
    {
        var half = Parameter(score - 0.5, NpgsqlDbType.Double);
        var needed = $"(case when {half} <= l.decay[1] then {half} else l.decay[1] - (100 - l.decay[1]) * ln(1 - ({half} - l.decay[1]) / (100 - l.decay[1])) end)";
        return (
            Parameter(score / LeadScoreState.BandWidth, NpgsqlDbType.Integer),
            Parameter((score + LeadScoreState.BandWidth - 1) / LeadScoreState.BandWidth, NpgsqlDbType.Integer),
            $"coalesce(decay_sum(l.decay, {Day}) >= {needed}, false)"
        );
    }

    /// <summary>What engagement is ordered by within a band: the sum it follows from, in thousandths.</summary>
    public string Warmth => $"coalesce((decay_sum(l.decay, {Day}) * 1000)::int, 0)";

    private string WriteMove(string move)
    {
        var holds = $"(l.next_move = {Text(move)} and {EngagementDecaySql.StillAt($"{Now:sql}")})";
        var fell = move switch
        {
            NextMove.Nurture => NextMove.HandOver,
            NextMove.Park => NextMove.Check,
            _ => null,
        };
        return fell is null ? holds : $"({holds} or (l.next_move = '{fell}' and l.move_until <= {Now}))";
    }

    private string Holds(Test test, FieldDefinition field, string column) =>
        test.Operator switch
        {
            TestOperator.Known => "true",
            TestOperator.In when field.IsNumeric && Whole(test, field) => OneOf(column, test.Values.Select(v => (int)Number(v)).ToArray(), NpgsqlDbType.Integer),
            TestOperator.In when field.IsNumeric => OneOf(column, test.Values.Select(Number).ToArray(), NpgsqlDbType.Numeric),
            TestOperator.In => OneOf(column, test.Values.ToArray(), NpgsqlDbType.Text),
            TestOperator.Contains => Like(column, test, v => $"%{v}%"),
            TestOperator.StartsWith => Like(column, test, v => $"{v}%"),
            TestOperator.BeginsBetween => Beginning(column, test.Values[0].ToLowerInvariant(), test.Values[1].ToLowerInvariant()),
            TestOperator.AtLeast => $"{column} >= {NumberOf(test, field, 0)}",
            TestOperator.AtMost => $"{column} <= {NumberOf(test, field, 0)}",
            TestOperator.Between => $"{column} between {NumberOf(test, field, 0)} and {NumberOf(test, field, 1)}",
            TestOperator.WithinDays => $"{column} between {Moment(DaysAgo(test))} and {Moment(now)}",
            TestOperator.OlderThanDays => $"{column} < {Moment(DaysAgo(test))}",
            TestOperator.Past => $"{column} < {Moment(now)}",
            TestOperator.Since => $"{column} >= {Moment(MomentOf(test))}",
            TestOperator.Before => $"{column} < {Moment(MomentOf(test))}",
            _ => throw new InvalidOperationException($"no SQL for {test.Operator}"),
        };

    private string Like(string column, Test test, Func<string, string> pattern)
    {
        var patterns = test.Values.Select(v => pattern(Escape(v.ToLowerInvariant()))).ToArray();
        return $"lower({column}) like any({Parameter(patterns, NpgsqlDbType.Array | NpgsqlDbType.Text)})";
    }

    // By the order of the letters' codes, as the reading in memory has it; the order of a language would put letters elsewhere.
    private string Beginning(string column, string from, string to) =>
        $"(lower({column}) collate \"C\" >= {Text(from)} and (lower({column}) collate \"C\" <= {Text(to)} or starts_with(lower({column}), {Text(to)})))";

    private string Moment(DateTime moment) => Parameter(moment, NpgsqlDbType.TimestampTz);

    // A whole number is compared with a column of whole numbers as one, else no index over it is used.
    private string NumberOf(Test test, FieldDefinition field, int at) =>
        Number(test.Values[at]) is var number && Whole(test, field) ? Parameter((int)number, NpgsqlDbType.Integer) : Parameter(number, NpgsqlDbType.Numeric);

    private static bool Whole(Test test, FieldDefinition field) =>
        BuiltInFields.WholeNumbers.Contains(field.Key) && test.Values.Select(Number).All(n => decimal.IsInteger(n) && n is >= int.MinValue and <= int.MaxValue);

    // An index gives rows in its order for one value, not for one of several.
    private string OneOf<T>(string column, T[] values, NpgsqlDbType type)
        where T : notnull => values.Length == 1 ? $"{column} = {Parameter(values[0], type)}" : $"{column} = any({Parameter(values, NpgsqlDbType.Array | type)})";

    private static Guid[] Keys(Test test) => [.. test.Values.Select(v => Guid.TryParse(v, out var id) ? id : (Guid?)null).OfType<Guid>()];

    private string Text(string text) => Parameter(text, NpgsqlDbType.Text);

    private static DateTime MomentOf(Test test) => FieldValue.Parse(FieldType.Date, test.Values[0]).Moment.ToUtc();

    private DateTime DaysAgo(Test test) => now.AddDays(-(double)Number(test.Values[0]));

    private static decimal Number(string text) => FieldValue.Parse(FieldType.Number, text).Number;

    private static string Escape(string text) =>
        text.Replace("\\", "\\\\", StringComparison.Ordinal).Replace("%", "\\%", StringComparison.Ordinal).Replace("_", "\\_", StringComparison.Ordinal);

    private static string Safe(string key) =>
        key.All(c => c is (>= 'a' and <= 'z') or (>= '0' and <= '9') or '_') ? key : throw new InvalidOperationException($"\"{key}\" is no field key");
}
