using System.Security.Claims;
using DapperLantern.App.Data;
using DapperLantern.App.Events;
using DapperLantern.App.Leads;
using DapperLantern.App.Matching;
using DapperLantern.App.Rights;
using DapperLantern.App.Setup;
using DapperLantern.Core.Events;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Rights;
using Microsoft.AspNetCore.Http.HttpResults;

namespace DapperLantern.App.Handover;

/// <summary>The facts of a contact, an account or a deal: those it has, and those it could have.</summary>
public sealed record RecordSheet(Guid Id, string Name, IReadOnlyList<FactView> Facts);

/// <summary>Written values by field key; blank empties a field.</summary>
/// <param name="Was">The stored values the change was made from; another one there now refuses it. A field left out was blank.</param>
public sealed record RecordChange([Count(1_000, Each = 10_000)] Dictionary<string, string> Facts, [Count(1_000, Each = 10_000)] Dictionary<string, string> Was);

/// <summary>Facts of contacts, accounts and deals, by the one catalogue, with fields of one's own like any other.</summary>
public static class RecordFacts
{
    private static readonly Dictionary<string, (TargetRecord Kind, string Table)> Kinds = new()
    {
        ["contacts"] = (TargetRecord.Contact, "contact"),
        ["accounts"] = (TargetRecord.Account, "account"),
        ["deals"] = (TargetRecord.Deal, "deal"),
    };

    public static void MapRecordFacts(this IEndpointRouteBuilder api)
    {
        foreach (var (path, (kind, table)) in Kinds)
        {
            api.MapGet($"/{path}/{{id:guid}}/facts", (Guid id, LanternDb db, RecordScope scope, Workspace workspace) => Open(kind, table, id, db, scope, workspace))
                .Requires(Act.SeeDeals)
                .WithTags("Deals")
                .WithSummary($"The facts of a {table}");
            api.MapPatch(
                    $"/{path}/{{id:guid}}/facts",
                    (Guid id, RecordChange body, ClaimsPrincipal user, LanternDb db, RecordScope scope, Workspace workspace) =>
                        Change(kind, table, id, body, user, db, scope, workspace)
                )
                .Requires(Act.WorkDeals)
                .WithTags("Deals")
                .WithSummary($"Change facts of a {table}");
        }
    }

    private static async Task<Results<Ok<RecordSheet>, ProblemHttpResult>> Open(TargetRecord kind, string table, Guid id, LanternDb db, RecordScope scope, Workspace workspace)
    {
        var name = table == "contact" ? scope.ContactName("r") : $"r.name";
        var row = await db.Row<NamedFacts>(
            $"select {name:sql} as name, r.facts::text as facts, {scope.ShowsContactData(table, "r"):sql} as shows_contact_data from {table:sql} r where r.id = {id} and {scope.Sees(table, "r"):sql}"
        );
        return row is null
            ? ApiProblems.NotFound(table)
            : TypedResults.Ok(new RecordSheet(id, row.Name, [.. Show(kind, Json.Read<Dictionary<string, string>>(row.Facts), row.ShowsContactData, workspace.Catalogue, scope)]));
    }

    private sealed record NamedFacts(string Name, string Facts, bool ShowsContactData);

    private sealed record OwnedFacts(string Facts, Guid? OwnerId);

    private static IEnumerable<FactView> Show(TargetRecord kind, Dictionary<string, string> facts, bool showsContactData, FieldCatalogue catalogue, RecordScope scope) =>
        FieldsOf(kind, facts, catalogue).Select(f => scope.Hides(f, showsContactData) ? FactView.Of(f, null, hidden: true) : FactView.Of(f, facts.GetValueOrDefault(f.Key)));

    // What it could have, in the order of the catalogue; and whatever else it has: a private person's contact has the facts of an account.
    private static IEnumerable<FieldDefinition> FieldsOf(TargetRecord kind, Dictionary<string, string> facts, FieldCatalogue catalogue) =>
        catalogue.FactsOf(kind).Concat(catalogue.All.Where(f => f.Lands != kind && facts.ContainsKey(f.Key)));

    private static async Task<Results<Ok<RecordSheet>, ProblemHttpResult>> Change(
        TargetRecord kind,
        string table,
        Guid id,
        RecordChange body,
        ClaimsPrincipal user,
        LanternDb db,
        RecordScope scope,
        Workspace workspace
    )
    {
        await using var transaction = await db.Database.BeginTransactionAsync();
        var row = await db.Row<OwnedFacts>($"select facts::text as facts, owner_id from {table:sql} where id = {id} for update");
        if (row is null)
            return ApiProblems.Of(Problem.NotFound(table));
        if (user.WorksOwnOnly() && row.OwnerId != user.Id())
            return ApiProblems.Of(new Problem("not-yours"));
        var facts = Json.Read<Dictionary<string, string>>(row.Facts);
        if (await scope.Locks(db, table, id, [.. body.Facts.Keys.Select(workspace.Catalogue.Find).OfType<FieldDefinition>()]) is { } locked)
            return ApiProblems.Of(locked);
        if (body.Facts.Keys.Any(k => facts.GetValueOrDefault(k, "") != body.Was.GetValueOrDefault(k, "")))
            return ApiProblems.Of(new Problem("stale"));
        var known = FieldsOf(kind, facts, workspace.Catalogue).ToDictionary(f => f.Key);
        var changes = new List<ChangedFact>();
        foreach (var (key, written) in body.Facts)
        {
            if (!known.TryGetValue(key, out var field))
                return ApiProblems.Of("field-unknown", key, key);
            var read = FieldReader.Read(field, written, Countries.Find(body.Facts.GetValueOrDefault("country", facts.GetValueOrDefault("country", ""))));
            if (read.Problem is { } problem)
                return ApiProblems.Of(problem with { Path = key });
            var stored = read.Value.IsKnown ? read.Value.ToString() : null;
            if (stored == facts.GetValueOrDefault(key))
                continue;
            changes.Add(new ChangedFact(key, facts.GetValueOrDefault(key), stored));
            if (stored is null)
                facts.Remove(key);
            else
                facts[key] = stored;
        }
        if (Nameless(kind, facts))
            return ApiProblems.Of("record-no-name", body.Facts.Keys.First(), kind == TargetRecord.Account ? "account" : "contact");
        if (changes.Count > 0)
        {
            await Write(db, kind, table, id, facts, changes);
            if (kind == TargetRecord.Contact)
                await MatchKeys.WriteContacts(db, [id], workspace.Catalogue);
        }
        await transaction.CommitAsync();
        return await Open(kind, table, id, db, scope, workspace);
    }

    private static bool Nameless(TargetRecord kind, Dictionary<string, string> facts) =>
        kind == TargetRecord.Account ? !facts.ContainsKey("company") : kind == TargetRecord.Contact && Keys.All(k => !facts.ContainsKey(k));

    private static readonly string[] Keys = ["first_name", "last_name", "company", "email", "phone"];

    private static async Task Write(LanternDb db, TargetRecord kind, string table, Guid id, Dictionary<string, string> facts, List<ChangedFact> changes)
    {
        await WriteFacts(db, table, id, facts);
        if (kind != TargetRecord.Deal)
            await DuplicateDetectionWorker.Ask(db, table, [id]);
        await db.Log(table, id, FactsChanged.Of(changes));
        await PeopleChange.Tell(db);
    }

    /// <summary>Writes the facts of a contact, account or deal, and the columns that follow them.</summary>
    public static Task WriteFacts(LanternDb db, string table, Guid id, Dictionary<string, string> facts)
    {
        var of = (string key) => facts.GetValueOrDefault(key);
        var full = $"{of("first_name")} {of("last_name")}".Trim();
        var person = full.Length > 0 ? full : of("company") ?? of("email") ?? of("phone");
        var key = of("company") is { } company ? Folding.Company(company) : null;
        SqlText follow = table switch
        {
            "contact" => $"name = coalesce({person}, name), email = {of("email")}, phone = {of("phone")}",
            "account" =>
                $"name = coalesce({of("company")}, name), company_key = coalesce({key}, company_key), domain = coalesce({of("website")}, domain), country = {of("country")}",
            _ => $"version = version + 1",
        };
        return db.Run($"update {table:sql} set {follow:sql}, facts = {Json.Write(facts)}::jsonb where id = {id}");
    }
}
