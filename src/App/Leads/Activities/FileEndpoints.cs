using System.Security.Claims;
using DapperLantern.App.Data;
using DapperLantern.App.Events;
using DapperLantern.App.Rights;
using DapperLantern.App.Setup;
using DapperLantern.Core.Events;
using DapperLantern.Core.Rights;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.AspNetCore.Mvc;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Leads.Activities;

/// <summary>A file that stands with a lead.</summary>
/// <param name="By">Who added it; null for what came with an arrival, which stays as it came.</param>
public sealed record LeadFileView(Guid Id, string Name, int Size, DateTime At, string? By);

/// <summary>Files of a lead: those that came with its letters, and those that people add. What is removed can be brought back.</summary>
public static class FileEndpoints
{
    /// <summary>Bytes of one file.</summary>
    public const int Largest = 20 * 1024 * 1024;

    private const int MostAtOnce = 10;

    public static void MapFiles(this IEndpointRouteBuilder api)
    {
        var see = api.MapGroup("").Requires(Act.SeeLeads).WithTags("Leads");
        see.MapGet("/leads/{id:guid}/files", Files).WithSummary("Files of a lead");
        see.MapGet("/files/{id:guid}", Download).WithSummary("One of these files").Produces<byte[]>(200, "application/octet-stream");
        var work = api.MapGroup("").Requires(Act.WorkLeads).WithTags("Leads");
        work.MapPost("/leads/{id:guid}/files", Add)
            .DisableAntiforgery()
            .WithMetadata(new RequestSizeLimitAttribute((long)Largest * MostAtOnce + 65536))
            .WithMetadata(new RequestFormLimitsAttribute { MultipartBodyLengthLimit = (long)Largest * MostAtOnce + 65536 })
            .WithSummary("Add files to a lead");
        work.MapDelete("/files/{id:guid}", (Guid id, ClaimsPrincipal user, LanternDb db, TimeProvider clock) => Mark(id, user, db, clock.UtcNow()))
            .WithSummary("Remove a file somebody added");
        work.MapPost("/files/{id:guid}/restore", (Guid id, ClaimsPrincipal user, LanternDb db) => Mark(id, user, db, null)).WithSummary("Bring a removed file back");
    }

    private static async Task<Ok<List<LeadFileView>>> Files(Guid id, LanternDb db, RecordScope scope) =>
        TypedResults.Ok(
            await db.Rows<LeadFileView>(
                $"""
                select id, name, size, at, by from (
                  select f.id, case when f.position = 0 then coalesce(nullif(a.raw->>'subject', ''), 'letter') || '.eml' else f.name end as name, f.size, a.at, null::text as by, f.position
                  from single_arrival a join arrival_file f on f.arrival_id = a.id where a.lead_id = {id} and {scope.SeesTied("lead", "a.lead_id"):sql}
                  union all
                  select f.id, f.name, f.size, f.at, coalesce(p.display_name, ''), 0 from lead_file f left join person p on p.id = f.person_id where f.lead_id = {id} and f.removed_at is null
                    and {scope.SeesTied("lead", "f.lead_id"):sql}
                ) f order by at desc, position, name
                """
            )
        );

    // Never shown by the browser as a page of ours: what came from outside is only ever saved.
    private static async Task<Results<FileContentHttpResult, ProblemHttpResult>> Download(Guid id, LanternDb db, RecordScope scope)
    {
        // A letter has its sender's address; it is shown to whom that is.
        var found = await db.Row<FoundFile>(
            $"""
            select f.name, f.bytes, f.position = 0 as letter, (l.id is null or {scope.ShowsContactData("lead", "l"):sql}) as shows_contact_data
              from arrival_file f join single_arrival a on a.id = f.arrival_id left join lead l on l.id = a.lead_id where f.id = {id}
                and (l.id is null or {scope.Sees("lead", "l"):sql})
            union all
            select f.name, f.bytes, false, true from lead_file f where f.id = {id} and f.removed_at is null and {scope.SeesTied("lead", "f.lead_id"):sql}
            """
        );
        return found is not { } file ? ApiProblems.NotFound("file")
            : file is { Letter: true, ShowsContactData: false } ? ApiProblems.NotYours()
            : TypedResults.File(file.Bytes, "application/octet-stream", file.Name);
    }

    private sealed record FoundFile(string Name, byte[] Bytes, bool Letter, bool ShowsContactData);

    private static async Task<Results<NoContent, ProblemHttpResult>> Add(
        Guid id,
        IFormFileCollection files,
        ClaimsPrincipal user,
        LanternDb db,
        TimeProvider clock,
        CancellationToken cancel
    )
    {
        if (files.Count is 0 or > MostAtOnce)
            return ApiProblems.Of("files-missing", "", MostAtOnce);
        foreach (var file in files)
            if (file.Length is 0 or > Largest)
                return ApiProblems.Of("file-size", "", file.NameOr("file"), Largest >> 20);
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        if (await LeadEndpoints.WhyNot(db, id, user, null) is { } no)
            return ApiProblems.Of(no);
        var now = clock.UtcNow();
        foreach (var file in files)
        {
            using var bytes = new MemoryStream((int)file.Length);
            await file.CopyToAsync(bytes, cancel);
            await db.Insert(
                new LeadFileRow
                {
                    Id = Guid.CreateVersion7(),
                    LeadId = id,
                    Name = file.NameOr("file"),
                    Size = (int)bytes.Length,
                    Bytes = bytes.ToArray(),
                    At = now,
                    PersonId = user.Id(),
                }
            );
        }
        await db.Log(EventLog.Lead, id, new FilesChanged("added", [.. files.Select(f => f.NameOr("file"))]));
        await LeadLive.Changed(db, id);
        await transaction.CommitAsync(cancel);
        return TypedResults.NoContent();
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> Mark(Guid id, ClaimsPrincipal user, LanternDb db, DateTime? removed)
    {
        await using var transaction = await db.Database.BeginTransactionAsync();
        if (await db.Row<LockedFile>($"select lead_id as lead, name, removed_at as removed from lead_file where id = {id} for update") is not { } file)
            return ApiProblems.NotFound("file");
        if (await LeadEndpoints.WhyNot(db, file.Lead, user, null) is { } no)
            return ApiProblems.Of(no);
        if (file.Removed is null == removed is null)
            return TypedResults.NoContent();
        await db.Set<LeadFileRow>().Where(x => x.Id == id).ExecuteUpdateAsync(s => s.SetProperty(x => x.RemovedAt, removed));
        await db.Log(EventLog.Lead, file.Lead, new FilesChanged(removed is null ? "back" : "removed", [file.Name]));
        await LeadLive.Changed(db, file.Lead);
        await transaction.CommitAsync();
        return TypedResults.NoContent();
    }

    private sealed record LockedFile(Guid Lead, string Name, DateTime? Removed);
}
