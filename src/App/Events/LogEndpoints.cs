using System.Runtime.CompilerServices;
using System.Security.Claims;
using DapperLantern.App.Data;
using DapperLantern.App.Leads;
using DapperLantern.App.Setup;
using DapperLantern.Core.Events;
using Microsoft.AspNetCore.Http.HttpResults;

namespace DapperLantern.App.Events;

/// <summary>One entry of the log.</summary>
/// <param name="By">Who did it; null for the program and for visitors.</param>
/// <param name="Cause">By what, in words: at the page, by an import, by the rules.</param>
/// <param name="RecordName">Null where it concerns no record, or one that is gone.</param>
public sealed record LogLine(
    long Id,
    DateTime At,
    string Kind,
    string Text,
    string? By,
    string Cause,
    string? RecordKind,
    Guid? Record,
    string? RecordName,
    IReadOnlyList<LogChange> Changes
);

/// <summary>A page of the log, newest first.</summary>
/// <param name="Next">Where the next page begins; null for the last.</param>
public sealed record LogPage(IReadOnlyList<LogLine> Lines, string? Next);

/// <summary>What the log can be narrowed by.</summary>
public sealed record LogChoices(IReadOnlyList<ChoiceView> Groups, IReadOnlyList<LogPerson> People);

public sealed record LogPerson(Guid Id, string Name);

/// <summary>What of the log is asked for. All that is null is not asked.</summary>
/// <param name="Person">Who did it.</param>
/// <param name="Record">What it concerns.</param>
/// <param name="Group">See <see cref="AuditWords.Groups"/>.</param>
/// <param name="From">From this moment on.</param>
/// <param name="To">Before this moment.</param>
internal sealed record LogAsk(Guid? Person = null, Guid? Record = null, string? Group = null, DateTimeOffset? From = null, DateTimeOffset? To = null);

/// <summary>The log, for administrators: who changed what and when. It is read and exported, and never changed.</summary>
public static class LogEndpoints
{
    private const int PageSize = 100;
    private const int MostExported = 1_000_000;

    public static void MapLog(this IEndpointRouteBuilder api)
    {
        var log = api.MapGroup("/log").Requires(Act.SeeLog).WithTags("Log");
        log.MapGet("", Page).WithSummary("Entries of the log, newest first: by person, record, group and time");
        log.MapGet("/choices", Choices).WithSummary("By what the log can be narrowed");
        api.MapGet("/log.{format:regex(^(csv|xlsx)$)}", Export).Requires(Act.SeeLog).WithTags("Log").WithSummary("The same as a file");
    }

    private static async Task<Results<Ok<LogPage>, ProblemHttpResult>> Page(
        Guid? person,
        Guid? record,
        string? group,
        DateTimeOffset? from,
        DateTimeOffset? to,
        string? after,
        LanternDb db,
        Workspace workspace
    )
    {
        var ask = new LogAsk(person, record, group, from, to);
        if (Wrong(ask) is { } wrong)
            return wrong;
        if (Cursor(after) is not { } begin)
            return ApiProblems.Invalid("page-unknown", "This page is not there; begin with the first.", "after");
        var rows = await Rows(db, ask, begin, PageSize + 1);
        var lines = await Lines(db, workspace, [.. rows.Take(PageSize)]);
        return TypedResults.Ok(new LogPage(lines, rows.Count > PageSize ? $"{lines[^1].At.Ticks}-{lines[^1].Id}" : null));
    }

    private static async Task<Ok<LogChoices>> Choices(LanternDb db) =>
        TypedResults.Ok(
            new LogChoices(
                [.. AuditWords.Groups.Select(g => new ChoiceView(g.Key, g.Label))],
                [.. (await Person.Names(db)).Select(p => new LogPerson(p.Key, p.Value)).OrderBy(p => p.Name, StringComparer.CurrentCultureIgnoreCase)]
            )
        );

    private static async Task<IResult> Export(
        Guid? person,
        Guid? record,
        string? group,
        DateTimeOffset? from,
        DateTimeOffset? to,
        string format,
        HttpResponse answer,
        ClaimsPrincipal user,
        LanternDb db,
        Workspace workspace,
        CancellationToken cancel
    )
    {
        var ask = new LogAsk(person, record, group, from, to);
        if (Wrong(ask) is { } wrong)
            return wrong;
        await db.Log(new Exported("the log"));
        await TableFile.Send(
            answer,
            "log",
            format,
            ["At", "By", "Cause", "Kind", "What", "Record", "Name", "From", "To"],
            Cells(db, workspace, ask, cancel),
            LeadAsk.ZoneOf(user.Zone()),
            cancel
        );
        return Results.Empty;
    }

    private static async IAsyncEnumerable<object?[]> Cells(LanternDb db, Workspace workspace, LogAsk ask, [EnumeratorCancellation] CancellationToken cancel)
    {
        var begin = (DateTime.MaxValue, long.MaxValue);
        for (var sent = 0; sent < MostExported; )
        {
            var rows = await Rows(db, ask, begin, 1000);
            foreach (var line in await Lines(db, workspace, rows))
            {
                cancel.ThrowIfCancellationRequested();
                yield return
                [
                    line.At.ToString("yyyy-MM-ddTHH:mm:ss.ffffffZ", System.Globalization.CultureInfo.InvariantCulture),
                    line.By,
                    line.Cause,
                    line.Kind,
                    line.Text,
                    line.RecordKind,
                    line.RecordName,
                    string.Join("; ", line.Changes.Select(c => $"{c.What}: {c.From}")),
                    string.Join("; ", line.Changes.Select(c => $"{c.What}: {c.To}")),
                ];
            }
            if (rows.Count < 1000)
                yield break;
            begin = (rows[^1].At, rows[^1].Id);
            sent += rows.Count;
        }
    }

    private static ProblemHttpResult? Wrong(LogAsk ask) =>
        ask.Group is not null && AuditWords.Groups.All(g => g.Key != ask.Group) ? ApiProblems.Invalid("group-unknown", "The log has no such group.", "group")
        : ask.From is { } from && ask.To is { } to && to <= from ? ApiProblems.Invalid("period-range", "The period ends before it begins.", "to")
        : null;

    private static (DateTime At, long Id)? Cursor(string? after)
    {
        if (after is null)
            return (DateTime.MaxValue, long.MaxValue);
        var parts = after.Split('-');
        return parts.Length == 2 && long.TryParse(parts[0], out var ticks) && ticks is >= 0 and <= 3155378975999999999 && long.TryParse(parts[1], out var id)
            ? (new DateTime(ticks, DateTimeKind.Utc), id)
            : null;
    }

    private static Task<List<Row>> Rows(LanternDb db, LogAsk ask, (DateTime At, long Id) begin, int most)
    {
        var kinds = ask.Group is null ? null : AuditWords.Groups.First(g => g.Key == ask.Group).Kinds;
        var (from, to) = (ask.From?.UtcDateTime, ask.To?.UtcDateTime);
        SqlText where = $"true";
        if (begin.Id != long.MaxValue)
            where = $"{where:sql} and (e.at, e.id) < ({begin.At}, {begin.Id})";
        if (ask.Person is { } person)
            where = $"{where:sql} and e.by_id = {person}";
        if (ask.Record is { } record)
            where = $"{where:sql} and e.record = {record}";
        if (kinds is not null)
            where = $"{where:sql} and e.kind = any({kinds})";
        // What concerns no lead is rare beside what does, and has an index of its own.
        if (ask.Group is not null && AuditWords.BesideLeads.Contains(ask.Group))
            where = $"{where:sql} and e.record_kind is distinct from 'lead'";
        if (from is { } since)
            where = $"{where:sql} and e.at >= {since}";
        if (to is { } until)
            where = $"{where:sql} and e.at < {until}";
        return db.Rows<Row>(
            $"""
            select e.id, e.at, e.kind, e.record_kind, e.record, e.cause, e.said::text as said, e.personal::text as personal, p.display_name as by, b.words as many
            from (select * from event e where {where:sql} order by e.at desc, e.id desc limit {most}) e
            left join person p on p.id = e.by_id left join bulk_edit b on e.cause in ('bulk', 'bulk_undo') and b.id = e.cause_id order by e.at desc, e.id desc
            """
        );
    }

    private static async Task<List<LogLine>> Lines(LanternDb db, Workspace workspace, List<Row> rows)
    {
        if (rows.Count == 0)
            return [];
        var names = await EventNames.Of(db, workspace, rows.SelectMany(r => EventNames.Ids(r.Said).Concat(EventNames.Ids(r.Personal))));
        var asked = rows.Where(r => r.Record is not null).Select(r => r.Record!.Value).Distinct().ToArray();
        var found = await db.Rows<Named>(
            $"""
            select id, {LeadRecord.NameSql:sql} as name from lead where id = any({asked})
            union all select id, name from deal where id = any({asked}) union all select id, name from account where id = any({asked}) union all select id, name from contact where id = any({asked})
            union all select id, display_name from person where id = any({asked}) union all select id, name from access_token where id = any({asked})
            union all select id, kind || ' ' || number from edition where id = any({asked}) union all select id, file_name from import where id = any({asked})
            """
        );
        var records = found.ToDictionary(f => f.Id, f => f.Name);
        return rows.ConvertAll(r =>
        {
            var happening = EventLog.Read(r.Kind, r.Said, r.Personal);
            return new LogLine(
                r.Id,
                r.At,
                r.Kind,
                happening is null ? r.Kind : AuditWords.Of(happening, r.RecordKind, r.Many, names),
                r.By,
                CauseWords(r.Cause),
                r.RecordKind,
                r.Record,
                r.Record is { } id ? records.GetValueOrDefault(id) : null,
                happening is null ? [] : AuditWords.Changes(happening, names)
            );
        });
    }

    private static string CauseWords(string cause) =>
        cause switch
        {
            Acting.Person => "by hand",
            Acting.Token => "another program",
            Acting.Visitor => "a public page",
            Acting.Import => "a list",
            Acting.Bulk => "a change to many",
            Acting.BulkUndo => "a change to many, taken back",
            Acting.Entry => "responses recorded at once",
            Acting.Backfill => "filled from earlier posts",
            Acting.System => "the program",
            _ => $"the program: {cause.Replace('_', ' ')}",
        };

    private sealed record Row
    {
        public long Id { get; init; }
        public DateTime At { get; init; }
        public string Kind { get; init; } = "";
        public string? RecordKind { get; init; }
        public Guid? Record { get; init; }
        public string Cause { get; init; } = "";
        public string Said { get; init; } = "{}";
        public string? Personal { get; init; }
        public string? By { get; init; }
        public string? Many { get; init; }
    }

    private sealed record Named(Guid Id, string Name);
}
