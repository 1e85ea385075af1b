using System.Collections.Frozen;
using System.Collections.Immutable;

namespace DapperLantern.Core.Fields;

/// <summary>A field the coordinator added; kept beside the built-in ones and used like them.</summary>
/// <param name="Currency">For an amount of money; ISO 4217.</param>
/// <param name="Lands">The record it belongs to once a lead is handed over.</param>
/// <param name="OnLead">False for a field that only those records have.</param>
/// <param name="Cost">True for a cost or a margin.</param>
public sealed record CustomField(
    string Key,
    string Label,
    FieldType Type,
    bool Personal = false,
    string Currency = "EUR",
    TargetRecord Lands = TargetRecord.Deal,
    bool OnLead = true,
    bool Cost = false
);

/// <summary>
/// All attributes of a lead. To add a built-in fact, add one line to <see cref="BuiltInFields.Facts"/> and make a migration with
/// <c>./lantern migration NAME</c>; nothing else needs to know.
/// </summary>
public sealed class FieldCatalogue
{
    private readonly FrozenDictionary<string, FieldDefinition> _byKey;
    private readonly FrozenDictionary<string, FieldDefinition> _around;

    private FieldCatalogue(ImmutableArray<FieldDefinition> fields, ImmutableArray<FieldDefinition> beyond, ImmutableArray<FieldDefinition> around)
    {
        Fields = [.. fields.Select((f, i) => f with { Ordinal = i })];
        Related = [.. around.Select((f, i) => f with { Ordinal = fields.Length + i })];
        _byKey = Fields.ToFrozenDictionary(f => f.Key);
        _around = Related.Where(f => !_byKey.ContainsKey(f.Key)).ToFrozenDictionary(f => f.Key);
        RecordOnly = beyond;
        Findings = [.. Fields.Where(f => f.Origin == FieldOrigin.Finding)];
        PersonalDate = Fields.FirstOrDefault(f => f is { Origin: FieldOrigin.Custom, Type: FieldType.Date, Personal: true });
    }

    public ImmutableArray<FieldDefinition> Fields { get; }

    /// <summary>The first date of an workspace's own that is about a person, such as a date of birth; null when it has none.</summary>
    public FieldDefinition? PersonalDate { get; }

    /// <summary>The answers to the questions of qualifying: weak, confirmed, or unknown.</summary>
    public ImmutableArray<FieldDefinition> Findings { get; }

    /// <summary>Fields that no lead has, only contacts, accounts or deals.</summary>
    public ImmutableArray<FieldDefinition> RecordOnly { get; }

    /// <summary>What is gathered from around a lead: conditions on the database may ask it, a record by itself does not have it.</summary>
    public ImmutableArray<FieldDefinition> Related { get; }

    /// <summary>The facts a contact, account or deal may have: those that land on it, and its own.</summary>
    public IEnumerable<FieldDefinition> FactsOf(TargetRecord record) => Facts.Concat(RecordOnly).Where(f => f.Lands == record);

    /// <summary>Every field there is, on whatever record.</summary>
    public IEnumerable<FieldDefinition> All => Fields.Concat(RecordOnly).Concat(Related);

    /// <exception cref="KeyNotFoundException">There is no such field.</exception>
    public FieldDefinition this[string key] => _byKey[key];

    public FieldDefinition? Find(string key) => _byKey.GetValueOrDefault(key);

    /// <summary>A field that a condition may ask: one of the record, else one gathered from around it; null when there is none.</summary>
    public FieldDefinition? Asked(string key) => Find(key) ?? _around.GetValueOrDefault(key);

    /// <summary>All that conditions may ask of a lead.</summary>
    public IEnumerable<FieldDefinition> Askable => OfLead.Concat(_around.Values.OrderBy(f => f.Ordinal));

    /// <summary>What people and files may fill in.</summary>
    public IEnumerable<FieldDefinition> Facts => Fields.Where(f => f.Origin is FieldOrigin.Fact or FieldOrigin.Custom);

    /// <summary>What a column of a list may go to: facts, and what is said of the arrival itself.</summary>
    public IEnumerable<FieldDefinition> Columns => Facts.Concat(Fields.Where(f => f.Origin == FieldOrigin.Arrival));

    /// <summary>What is kept with a lead: all but what is said of an arrival only.</summary>
    public IEnumerable<FieldDefinition> OfLead => Facts.Concat(Fields.Where(f => f.Origin is FieldOrigin.System or FieldOrigin.Finding));

    /// <summary>Keys of the value lists that fields around a lead take their choices from.</summary>
    public const string Purposes = "consent-purposes";

    /// <summary>Begins the keys of the fields that say what somebody agreed to, one for each purpose.</summary>
    public const string Consent = "consent_";

    /// <summary>Key of the value list that holds the questions pipelines ask beyond the standard ones: key and label.</summary>
    public const string OwnQuestions = "questions";

    private static IEnumerable<FieldDefinition> MakeFindings(IReadOnlyDictionary<string, ImmutableArray<Choice>> lists) =>
        FindingFields
            .Standard.Concat(lists.GetValueOrDefault(OwnQuestions, []))
            .DistinctBy(q => q.Key)
            .Select(q => new FieldDefinition(FindingFields.KeyOf(q.Key), q.Label, FieldType.Choice, FieldOrigin.Finding) { Choices = FindingFields.Certainties });

    // What an workspace asks of the surroundings of a lead. How each is gathered stands with the SQL reading.
    private static IEnumerable<FieldDefinition> MakeAround(IReadOnlyDictionary<string, ImmutableArray<Choice>> lists) =>
        [
            Gathered("tag", "Tag", FieldType.Choice, true),
            Gathered("team", "Team of the owner", FieldType.Choice, true),
            Gathered("in_campaign", "Member of campaign", FieldType.Choice, true),
            Gathered("responded", "What they did in a campaign", FieldType.Choice, true) with
            {
                Choices = Campaigns.CampaignResponse.Choices,
            },
            Gathered("event", "Sign", FieldType.Choice, true),
            Gathered("customer", "Customer", FieldType.YesNo) with
            {
                Choices = BuiltInFields.YesNo,
            },
            Gathered("last_call_at", "Last call", FieldType.Date),
            Gathered("calls", "Calls", FieldType.Number),
            Gathered("said", "Notes and calls", FieldType.Text, true),
            .. lists.GetValueOrDefault(Purposes, []).Select(p => Gathered(Consent + p.Key, $"Consent: {p.Label}", FieldType.Choice) with { Choices = ConsentStates }),
        ];

    private static readonly ImmutableArray<Choice> ConsentStates = [new("given", "Given"), new("withdrawn", "Withdrawn")];

    /// <summary>Key of the field that says how a row's person answered to the import's campaign.</summary>
    public const string Response = "campaign_response";

    /// <summary>Key of the field whose text becomes a note in the story of the lead.</summary>
    public const string Note = "note";

    /// <summary>Longest note a list may bring, in UTF-16 units.</summary>
    public const int LongestNote = 5000;

    /// <summary>Builds the catalogue of an workspace.</summary>
    /// <param name="valueLists">Allowed values by field key; a key that names no choice field is ignored.</param>
    /// <param name="custom">Fields added by the coordinator, after the built-in facts.</param>
    /// <param name="currency">What built-in amounts are in; ISO 4217.</param>
    public static FieldCatalogue Build(
        IReadOnlyDictionary<string, ImmutableArray<Choice>>? valueLists = null,
        IEnumerable<CustomField>? custom = null,
        string currency = BuiltInFields.UsualCurrency
    )
    {
        var added = (custom ?? []).ToLookup(c => c.OnLead, c => WithValues(Define(c), valueLists));
        var lists = valueLists ?? new Dictionary<string, ImmutableArray<Choice>>();
        // Fields that every workspace has come first, so that a field of one's own, or a question, moves none of them.
        var fields = BuiltInFields
            .Facts.Select(f => f.Currency.Length > 0 && f.Currency != currency ? f with { Currency = currency } : f)
            .Concat(BuiltInFields.BySystem)
            .Concat(BuiltInFields.OfArrival)
            .Concat(MakeFindings(lists))
            .Concat(added[true])
            .Select(f => WithValues(f, valueLists));
        var around = MakeAround(lists).Select(f => WithValues(f, valueLists));
        return new FieldCatalogue([.. fields], [.. added[false]], [.. around]);
    }

    private static FieldDefinition Define(CustomField field) =>
        new(field.Key, field.Label, field.Type, FieldOrigin.Custom, field.Personal)
        {
            Headings = [Folding.Heading(field.Label)],
            Currency = field.Type == FieldType.Money ? field.Currency : "",
            Choices = field.Type == FieldType.YesNo ? BuiltInFields.YesNo : [],
            Lands = field.Lands,
            Cost = field.Cost,
        };

    private static FieldDefinition WithValues(FieldDefinition field, IReadOnlyDictionary<string, ImmutableArray<Choice>>? lists) =>
        lists is not null && lists.TryGetValue(field.Key, out var values) ? field with { Choices = values } : field;

    private static FieldDefinition Gathered(string key, string label, FieldType type, bool many = false) => new(key, label, type, FieldOrigin.Related) { Many = many };
}
