using System.Security.Claims;
using DapperLantern.App.Data;
using DapperLantern.App.Events;
using DapperLantern.App.Leads;
using DapperLantern.App.Setup;
using DapperLantern.Core.Events;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Rights;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Intake.Forms;

/// <summary>What filling a field from earlier posts would do.</summary>
/// <param name="Posts">Earlier posts that have it.</param>
/// <param name="Leads">Leads whose field is blank and would be filled.</param>
/// <param name="Unreadable">Values that cannot be read.</param>
public sealed record BackfillPreview(string Field, string Label, int Posts, int Leads, int Unreadable);

public sealed record BackfillDone(Guid Id, int Leads);

/// <summary>Which field to fill.</summary>
public sealed record BackfillOrder([Text(100)] string Field);

/// <summary>A value a lead got, and what was there before; kept so that it can be undone.</summary>
public sealed record Backfilled(Guid Lead, string After);

/// <summary>Fills a field that a form asks for now from earlier posts that had it unasked. Only blanks are filled; the newest post that can be read counts.</summary>
public sealed class Backfill(Workspace workspace, ArrivalMerger merger, TimeProvider clock)
{
    /// <summary>What it would do.</summary>
    public async Task<BackfillPreview> Preview(LanternDb db, string form, FieldDefinition field)
    {
        var (posts, values, unreadable) = await Read(db, form, field);
        var leads = await LeadStore.LoadMany(db, [.. values.Keys], workspace.Catalogue, hold: false);
        return new BackfillPreview(field.Key, field.Label, posts, leads.Values.Count(l => Fillable(l, field)), unreadable);
    }

    /// <summary>Does it, in the caller's transaction.</summary>
    public async Task<BackfillDone> Fill(LanternDb db, string form, FieldDefinition field, Guid person)
    {
        var (_, values, _) = await Read(db, form, field);
        var leads = await LeadStore.LoadMany(db, [.. values.Keys], workspace.Catalogue, clock.UtcNow());
        var filled = leads.Values.Where(l => Fillable(l, field)).Select(l => new Backfilled(l.Id, values[l.Id].ToString())).ToList();
        await Write(db, leads, filled.Select(f => (f.Lead, values[f.Lead])), field, "Filled from an earlier post");
        var done = new BackfillDone(Guid.CreateVersion7(), filled.Count);
        await db.Insert(
            new BackfillRow
            {
                Id = done.Id,
                FormKey = form,
                Field = field.Key,
                At = clock.UtcNow(),
                PersonId = person,
                Leads = done.Leads,
                Changes = Json.Write(filled),
            }
        );
        return done;
    }

    /// <summary>Empties again what still holds the value filled in. False when there is nothing to undo.</summary>
    public async Task<bool> Undo(LanternDb db, Guid id)
    {
        var row = await db.Entity<BackfillRow>($"select * from backfill where id = {id} and undone_at is null for update");
        if (row is null || workspace.Catalogue.Find(row.Field) is not { } field)
            return false;
        var filled = Json.Read<List<Backfilled>>(row.Changes);
        var leads = await LeadStore.LoadMany(db, [.. filled.Select(f => f.Lead)], workspace.Catalogue, clock.UtcNow());
        var same = filled.Where(f => leads.TryGetValue(f.Lead, out var lead) && lead.Facts[field.Ordinal] == FieldValue.Parse(field.Type, f.After));
        await Write(db, leads, same.Select(f => (f.Lead, FieldValue.Unknown)), field, "The filling from earlier posts was undone");
        await db.Set<BackfillRow>().Where(x => x.Id == id).ExecuteUpdateAsync(s => s.SetProperty(x => x.UndoneAt, clock.UtcNow()));
        return true;
    }

    private async Task Write(LanternDb db, Dictionary<Guid, KnownLead> leads, IEnumerable<(Guid Lead, FieldValue Value)> values, FieldDefinition field, string source)
    {
        var now = clock.UtcNow();
        var changed = new List<KnownLead>();
        var told = new List<(Guid, Happening)>();
        foreach (var (id, value) in values)
        {
            var lead = leads[id];
            told.Add((id, FactsChanged.Of([EventLog.Change(field, lead.Facts[field.Ordinal], value)], source)));
            (lead.Facts[field.Ordinal], lead.Changed) = (value, true);
            if (value.IsKnown)
                lead.Provenance[field.Key] = new Provenance("an earlier post", now);
            else
                lead.Provenance.Remove(field.Key);
            changed.Add(lead);
        }
        var ids = changed.Select(l => l.Id).ToArray();
        await merger.Rescore(db, changed, await LeadStore.EventsOf(db, ids), now);
        await LeadBulkUpdate.Write(db, changed);
        await db.Log(EventLog.Lead, told);
    }

    // Newest first, so that the first value that can be read is the newest.
    private sealed record Written(Guid Lead, string Value, string? Country);

    private async Task<(int Posts, Dictionary<Guid, FieldValue> Values, int Unreadable)> Read(LanternDb db, string form, FieldDefinition field)
    {
        var rows = await db.Rows<Written>(
            $"""
            select lead_id as lead, raw->>{field.Key} as value, raw->>'country' as country from single_arrival
            where form_key = {form} and state = 'taken' and lead_id is not null and coalesce(raw->>{field.Key}, '') <> '' order by at desc
            """
        );
        var (posts, unreadable, values) = (0, 0, new Dictionary<Guid, FieldValue>());
        foreach (var (lead, written, country) in rows)
        {
            posts++;
            var read = FieldReader.Read(field, written, country is null ? null : Countries.Find(country));
            if (read.Problem is not null)
                unreadable++;
            else if (read.Value.IsKnown)
                values.TryAdd(lead, read.Value);
        }
        return (posts, values, unreadable);
    }

    private static bool Fillable(KnownLead lead, FieldDefinition field) => !lead.Facts[field.Ordinal].IsKnown && lead.Facts.Text("state") != Core.Leads.LeadState.HandedOver;
}

public static class BackfillEndpoints
{
    public static void MapBackfills(this IEndpointRouteBuilder api)
    {
        var run = api.MapGroup("").Requires(Act.RunIntake).WithTags("Forms");
        run.MapGet("/forms/{key}/backfill", Look).WithSummary("What filling a field from earlier posts would do");
        run.MapPost("/forms/{key}/backfill", Fill).TakesTurns().WithSummary("Fill a field from earlier posts");
        run.MapDelete("/backfills/{id:guid}", Undo).TakesTurns().WithSummary("Undo a filling");
    }

    private static async Task<Results<Ok<BackfillPreview>, ProblemHttpResult>> Look(string key, string field, LanternDb db, Workspace workspace, Backfill backfill) =>
        workspace.Catalogue.Find(field) is not { Origin: FieldOrigin.Fact or FieldOrigin.Custom } definition
            ? ApiProblems.NotFound("field")
            : TypedResults.Ok(await backfill.Preview(db, key, definition));

    private static async Task<Results<Ok<BackfillDone>, ProblemHttpResult>> Fill(
        string key,
        BackfillOrder body,
        ClaimsPrincipal user,
        LanternDb db,
        Workspace workspace,
        Backfill backfill
    )
    {
        if (workspace.Catalogue.Find(body.Field) is not { Origin: FieldOrigin.Fact or FieldOrigin.Custom } field)
            return ApiProblems.NotFound("field");
        await using var transaction = await db.Database.BeginTransactionAsync();
        await Admission.Lock(db);
        var done = await backfill.Fill(db, key, field, user.Id());
        await transaction.CommitAsync();
        return TypedResults.Ok(done);
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> Undo(Guid id, LanternDb db, Backfill backfill)
    {
        await using var transaction = await db.Database.BeginTransactionAsync();
        await Admission.Lock(db);
        if (!await backfill.Undo(db, id))
            return ApiProblems.Of("undone");
        await transaction.CommitAsync();
        return TypedResults.NoContent();
    }
}
