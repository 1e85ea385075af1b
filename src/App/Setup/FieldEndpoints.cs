using DapperLantern.App.Data;
using DapperLantern.App.Leads;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Rights;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Setup;

/// <summary>A field this workspace added. <see cref="Known"/>: records that have a value.</summary>
/// <param name="Lands">The record it belongs to once a lead is handed over.</param>
/// <param name="OnLead">False for a field that only those records have.</param>
/// <param name="Choices">For a choice field, its values.</param>
public sealed record CustomFieldView(
    string Key,
    string Label,
    FieldType Type,
    bool Personal,
    bool Cost,
    string Currency,
    TargetRecord Lands,
    bool OnLead,
    IReadOnlyList<ChoiceView> Choices,
    int Known
);

/// <param name="Choices">Labels of the values, for a choice field.</param>
/// <param name="Cost">True for a cost or a margin, which some roles are not shown.</param>
public sealed record NewField(
    [Text(200)] string Label,
    FieldType Type,
    bool Personal = false,
    [Text(20)] string Currency = "EUR",
    [Count(200, Each = 200)] IReadOnlyList<string>? Choices = null,
    TargetRecord Lands = TargetRecord.Deal,
    bool OnLead = true,
    bool Cost = false
);

/// <param name="Choices">All labels, in order; one left out can no longer be chosen, and stays where it is kept.</param>
public sealed record FieldChange([Text(200)] string Label, [Count(200, Each = 200)] IReadOnlyList<string>? Choices = null);

/// <summary>Fields of one's own: there at once in lists, forms, conditions and on every lead, in every process.</summary>
public static class FieldEndpoints
{
    private const int MostFields = 100;

    public static void MapCustomFields(this IEndpointRouteBuilder api)
    {
        var group = api.MapGroup("/custom-fields").Requires(Act.SetUp).WithTags("Setup");
        group.MapGet("", List).WithSummary("Fields added here");
        group.MapPost("", Add).WithSummary("Add a field");
        group.MapPut("/{key}", Change).WithSummary("Rename a field, change its values");
        group.MapDelete("/{key}", Remove).WithSummary("Remove a field no lead has a value of");
    }

    private static async Task<Ok<List<CustomFieldView>>> List(LanternDb db, Workspace workspace)
    {
        var fields = Custom(workspace.Catalogue).ToList();
        var known = (await db.Rows<KeyCount>($"select k as key, ({CountOf:sql})::int as count from unnest({fields.Select(f => f.Key).ToArray()}) k")).ToDictionary(
            k => k.Key,
            k => k.Count
        );
        return TypedResults.Ok(
            fields
                .Select(f => new CustomFieldView(
                    f.Key,
                    f.Label,
                    f.Type,
                    f.Personal,
                    f.Cost,
                    f.Currency,
                    f.Lands,
                    workspace.Catalogue.Find(f.Key) is not null,
                    f.Type == FieldType.Choice ? [.. f.Choices.Select(c => new ChoiceView(c.Key, c.Label))] : [],
                    known[f.Key]
                ))
                .ToList()
        );
    }

    private static async Task<Results<Created<string>, ProblemHttpResult>> Add(NewField body, LanternDb db, WorkspaceConfiguration configuration)
    {
        var workspace = configuration.Current;
        var label = FieldReader.Clean(body.Label);
        var key = Folding.Heading(label).Replace(' ', '_');
        if (label.Length is 0 or > 60 || key.Length == 0 || !char.IsAsciiLetter(key[0]))
            return ApiProblems.Of("field-name-unfit", "label");
        if (workspace.Catalogue.All.Any(f => f.Key == key || (f.Origin != FieldOrigin.Finding && Folding.Heading(f.Label) == Folding.Heading(label))))
            return ApiProblems.Of("field-exists", "", label);
        if (body.Type == FieldType.Money && !Iso4217.IsCode(body.Currency))
            return ApiProblems.Of("currency-unknown", "currency");
        if (body.Type == FieldType.Choice && ChoicesOf(body.Choices) is null)
            return ApiProblems.Of("choices-missing", "choices");
        await using (var transaction = await db.Database.BeginTransactionAsync())
        {
            var fields = await Load(db);
            if (fields.Count >= MostFields)
                return ApiProblems.Of("full", "", MostFields, "fields of our own");
            fields.Add(new CustomField(key, label, body.Type, body.Personal, body.Currency, body.Lands, body.OnLead, body.Cost));
            await Save(db, fields, key, body.Type == FieldType.Choice ? ChoicesOf(body.Choices) : null);
            await transaction.CommitAsync();
        }
        await configuration.Changed();
        return TypedResults.Created($"/api/custom-fields/{Uri.EscapeDataString(key)}", key);
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> Change(string key, FieldChange body, LanternDb db, WorkspaceConfiguration configuration)
    {
        var workspace = configuration.Current;
        var label = FieldReader.Clean(body.Label);
        if (label.Length is 0 or > 60)
            return ApiProblems.Of("name-missing", "label", 60);
        if (body.Choices is not null && ChoicesOf(body.Choices) is null)
            return ApiProblems.Of("choices-missing", "choices");
        await using (var transaction = await db.Database.BeginTransactionAsync())
        {
            var fields = await Load(db);
            var at = fields.FindIndex(f => f.Key == key);
            if (at < 0)
                return ApiProblems.NotFound("field of your own");
            fields[at] = fields[at] with { Label = label };
            await Save(db, fields, key, fields[at].Type == FieldType.Choice ? Renamed(Custom(workspace.Catalogue).First(f => f.Key == key), ChoicesOf(body.Choices)) : null);
            await transaction.CommitAsync();
        }
        await configuration.Changed();
        return TypedResults.NoContent();
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> Remove(string key, LanternDb db, WorkspaceConfiguration configuration)
    {
        await using (var transaction = await db.Database.BeginTransactionAsync())
        {
            var fields = await Load(db);
            if (fields.RemoveAll(f => f.Key == key) == 0)
                return ApiProblems.NotFound("field of your own");
            if (await db.One<bool>($"""select ({CountOf:sql}) > 0 as "Value" from (select {key}::text as k) x"""))
                return ApiProblems.Of("field-used");
            if (await Editions.Asking(db, key) is { Count: > 0 } asking)
                return ApiProblems.Of("field-asked", "", new Whole(string.Join(" and ", asking)));
            await Save(db, fields, key, null);
            await transaction.CommitAsync();
        }
        await configuration.Changed();
        return TypedResults.NoContent();
    }

    private static IEnumerable<FieldDefinition> Custom(FieldCatalogue catalogue) => catalogue.All.Where(f => f.Origin == FieldOrigin.Custom);

    // Over all records that can have the field k.
    private const string CountOf = """
        /*unscoped: how often a field is filled*/ (select count(*) from lead where custom ? k) + (select count(*) from contact where facts ? k)
        + (select count(*) from account where facts ? k) + (select count(*) from deal where facts ? k)
        """;

    // The rows are locked, so that two people who add a field at once add both.
    private static async Task<List<CustomField>> Load(LanternDb db)
    {
        await db.Run(
            $$"""insert into setup_entry (key, body) values ('custom-fields', '[]'), ('value-lists', '{}') on conflict do nothing; select 1 from setup_entry where key in ('custom-fields', 'value-lists') order by key for update"""
        );
        return Json.Read<List<CustomField>>(await db.Set<SetupEntry>().Where(x => x.Key == "custom-fields").Select(x => x.Body).SingleAsync());
    }

    private static async Task Save(LanternDb db, List<CustomField> fields, string key, List<Choice>? choices)
    {
        await db.Set<SetupEntry>().Where(x => x.Key == "custom-fields").ExecuteUpdateAsync(s => s.SetProperty(x => x.Body, Json.Write(fields)));
        if (choices is not null)
            await PickListDesk.Save(db, key, choices);
    }

    private static List<Choice>? ChoicesOf(IReadOnlyList<string>? labels)
    {
        var clean = (labels ?? []).Select(FieldReader.Clean).Where(l => l.Length > 0).ToList();
        var choices = clean.Select(l => new Choice(Folding.Heading(l).Replace(' ', '_'), l)).DistinctBy(c => c.Key).ToList();
        return choices.Count is 0 or > 200 || choices.Count != clean.Count || choices.Any(c => c.Key.Length is 0 or > 80) ? null : choices;
    }

    // A value keeps its key and its other spellings through a change of order.
    private static List<Choice>? Renamed(FieldDefinition field, List<Choice>? choices) =>
        choices?.Select(c => field.Choices.FirstOrDefault(o => o.Label == c.Label || o.Key == c.Key) is { } old ? old with { Label = c.Label } : c).ToList();

    private sealed record KeyCount(string Key, int Count);
}
