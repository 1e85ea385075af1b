using DapperLantern.App.Data;
using DapperLantern.App.Intake;
using DapperLantern.App.Setup;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Matching;
using DapperLantern.Core.Rights;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Matching;

/// <param name="Rule">trusted, fullest or newest.</param>
public sealed record FieldMergeRule([Text(100)] string Field, [Text(200)] string Label, MergeRule Rule);

/// <summary>How the better of two values is proposed: whose names mean a person of ours, how far each source is trusted, and what decides first for each field.</summary>
public sealed record MergeRules(IReadOnlySet<string> People, IReadOnlyDictionary<string, int> Trust, IReadOnlyDictionary<string, MergeRule> Rules)
{
    private const string Entry = "merge-rules";

    /// <summary>What a field's rule is unless said otherwise.</summary>
    public MergeRule Of(FieldDefinition field) => Rules.GetValueOrDefault(field.Key, MergeRule.Trusted);

    public static async Task<MergeRules> Load(LanternDb db)
    {
        var people = await db.Set<Person>().Select(p => p.UserName!).ToHashSetAsync();
        var trust = await db.Set<SourceRow>().Where(s => s.Trust != 0).Select(s => new { s.Key, s.Trust }).ToDictionaryAsync(t => t.Key, t => t.Trust);
        return new MergeRules(people, trust, await Said(db));
    }

    public static void Map(IEndpointRouteBuilder api)
    {
        var group = api.MapGroup("/merge-rules").Requires(Act.SetUp).WithTags("Duplicates");
        group.MapGet("", List).WithSummary("What decides first between two values of a field when records merge");
        group.MapPut("/{field}", Save).WithSummary("Say what decides first for a field");
    }

    private static async Task<Dictionary<string, MergeRule>> Said(LanternDb db) => await SetupEntries.Read<Dictionary<string, MergeRule>>(db, Entry) ?? [];

    private static async Task<Ok<List<FieldMergeRule>>> List(LanternDb db, Workspace workspace)
    {
        var said = await Said(db);
        return TypedResults.Ok(workspace.Catalogue.Facts.Select(f => new FieldMergeRule(f.Key, f.Label, said.GetValueOrDefault(f.Key, MergeRule.Trusted))).ToList());
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> Save(string field, FieldMergeRule body, LanternDb db, Workspace workspace)
    {
        if (workspace.Catalogue.Facts.All(f => f.Key != field))
            return ApiProblems.NotFound("field");
        await using var transaction = await db.Database.BeginTransactionAsync();
        // Two who change two fields at once keep both.
        await db.Run($$"""insert into setup_entry (key, body) values ({{Entry}}, '{}') on conflict (key) do nothing; select 1 from setup_entry where key = {{Entry}} for update""");
        var said = await Said(db);
        said[field] = body.Rule;
        await SetupEntries.Save(db, Entry, Json.Write(said));
        await transaction.CommitAsync();
        return TypedResults.NoContent();
    }
}
