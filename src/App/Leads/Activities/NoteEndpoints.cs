using System.Security.Claims;
using DapperLantern.App.Data;
using DapperLantern.App.Events;
using DapperLantern.App.Setup;
using DapperLantern.Core.Events;
using DapperLantern.Core.Rights;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Leads.Activities;

/// <summary>What is null stays.</summary>
public sealed record NoteChange([Text(10_000)] string? Text = null, bool? Pinned = null);

/// <summary>Notes and calls in a story: corrected by who wrote them, pinned, removed and brought back. What a note said before is kept.</summary>
public static class NoteEndpoints
{
    public static void MapNotes(this IEndpointRouteBuilder api)
    {
        var work = api.MapGroup("/story/{id:guid}").Requires(Act.WorkLeads).WithTags("Leads");
        work.MapPatch("", Change).WithSummary("Correct a note, or pin it");
        work.MapDelete("", Remove).WithSummary("Remove a note");
        work.MapPost("/restore", Restore).WithSummary("Bring a removed note back");
    }

    private static Task<Results<NoContent, ProblemHttpResult>> Change(Guid id, NoteChange body, ClaimsPrincipal user, LanternDb db, TimeProvider clock)
    {
        var text = body.Text?.Trim();
        if (text is { Length: 0 or > LeadEndpoints.LongestNote })
            return Task.FromResult<Results<NoContent, ProblemHttpResult>>(ApiProblems.Of("text-range", "text", LeadEndpoints.LongestNote));
        return With(
            id,
            user,
            db,
            byWriter: text is not null,
            async (db, note) =>
            {
                if (text is not null && text != note.Text)
                    await note.Log(db, new NoteChanged(id, note.Text, text));
                if (body.Pinned is { } pinned)
                    await note.Log(db, new NotePinned(id, pinned));
                await db.Run(
                    $"""
                    update story_entry set pinned = coalesce({body.Pinned}, pinned), edited_at = case when {text}::text is null or {text} = text then edited_at else {clock.UtcNow()} end,
                      was = case when {text}::text is null or {text} = text then was else was || jsonb_build_object('text', text, 'until', {clock.UtcNow()}::timestamptz) end, text = coalesce({text}, text)
                    where id = {id}
                    """
                );
            }
        );
    }

    private static Task<Results<NoContent, ProblemHttpResult>> Remove(Guid id, ClaimsPrincipal user, LanternDb db, TimeProvider clock) =>
        With(
            id,
            user,
            db,
            byWriter: true,
            async (db, note) =>
            {
                await note.Log(db, new NoteRemoved(id, Back: false));
                await db.Set<StoryEntry>().Where(x => x.Id == id).ExecuteUpdateAsync(s => s.SetProperty(x => x.RemovedAt, x => x.RemovedAt ?? clock.UtcNow()));
            }
        );

    private static Task<Results<NoContent, ProblemHttpResult>> Restore(Guid id, ClaimsPrincipal user, LanternDb db) =>
        With(
            id,
            user,
            db,
            byWriter: true,
            async (db, note) =>
            {
                await note.Log(db, new NoteRemoved(id, Back: true));
                await db.Set<StoryEntry>().Where(x => x.Id == id).ExecuteUpdateAsync(s => s.SetProperty(x => x.RemovedAt, (DateTime?)null));
            }
        );

    // Who wrote it may change it, and who sets up; everybody who works the lead may pin it.
    private static async Task<Results<NoContent, ProblemHttpResult>> With(Guid id, ClaimsPrincipal user, LanternDb db, bool byWriter, Func<LanternDb, LockedNote, Task> write)
    {
        await using var transaction = await db.Database.BeginTransactionAsync();
        var found = await db.Row<LockedNote>(
            $"select lead_id as lead, deal_id as deal, account_id as account, contact_id as contact, person_id as person, kind, text from story_entry where id = {id} for update"
        );
        if (found is not { Kind: "note" or "call" or "call_missed" } entry)
            return ApiProblems.NotFound("note");
        if (byWriter && entry.Person != user.Id() && !user.May(Act.SetUp))
            return ApiProblems.NotYours();
        if (entry.Lead is { } lead)
        {
            if (await LeadEndpoints.WhyNot(db, lead, user, null) is { } no)
                return ApiProblems.Of(no);
            await LeadLive.Changed(db, lead);
        }
        await write(db, entry);
        await transaction.CommitAsync();
        return TypedResults.NoContent();
    }

    private sealed record LockedNote(Guid? Lead, Guid? Deal, Guid? Account, Guid? Contact, Guid? Person, string Kind, string Text)
    {
        public Task Log(LanternDb db, Happening happening) => db.Log(Lead, Deal, Account, Contact, happening);
    }
}
