using System.Runtime.CompilerServices;
using System.Security.Claims;
using DapperLantern.App.Data;
using DapperLantern.App.Leads;
using DapperLantern.App.Rights;
using DapperLantern.App.Setup;
using DapperLantern.Core.Events;
using DapperLantern.Core.Rights;
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
    private const int AtOnce = 1000;

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
            return ApiProblems.Of(wrong);
        if (Cursor(after) is not { } begin)
            return ApiProblems.Of("page-unknown", "after");
        var found = await Lines(db, workspace, ask, begin, PageSize + 1);
        List<LogLine> lines = [.. found.Take(PageSize)];
        return TypedResults.Ok(new LogPage(lines, found.Count > PageSize ? $"{lines[^1].At.Ticks}-{lines[^1].Id}" : null));
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
            return ApiProblems.Of(wrong);
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
            var lines = await Lines(db, workspace, ask, begin, AtOnce);
            foreach (var line in lines)
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
            if (lines.Count < AtOnce)
                yield break;
            begin = (lines[^1].At, lines[^1].Id);
            sent += lines.Count;
        }
    }

    private static Problem? Wrong(LogAsk ask) =>
        ask.Group is not null && AuditWords.Groups.All(g => g.Key != ask.Group) ? Problem.Of("log-group-unknown", "group")
        : ask.From is { } from && ask.To is { } to && to <= from ? Problem.Of("period-range", "to")
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

    private static SqlText Where(LogAsk ask, (DateTime At, long Id) begin)
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
        return where;
    }

    private static async Task<List<LogLine>> Lines(LanternDb db, Workspace workspace, LogAsk ask, (DateTime At, long Id) begin, int most)
    {
        var logged = await LoggedEvents.Read(db, workspace, Where(ask, begin), most, RecordScope.Everything, withRecords: true);
        var asked = logged.All.Select(e => e.Row.Record).OfType<Guid>().Distinct().ToArray();
        // Beside those that the words of events name.
        var found = await db.Rows<Named>(
            $"""
            select id, {LeadRecord.NameSql:sql} as name from lead where id = any({asked})
            union all select id, name from access_token where id = any({asked})
            union all select id, kind || ' ' || number from edition where id = any({asked})
            union all select id, file_name from import where id = any({asked})
            """
        );
        var others = found.ToDictionary(f => f.Id, f => f.Name);
        return
        [
            .. logged.All.Select(e => new LogLine(
                e.Row.Id,
                e.Row.At,
                e.Row.Kind,
                e.Happening is null ? e.Row.Kind : AuditWords.Of(e.Happening, e.Row.RecordKind, e.Row.ManyWords, logged.Names),
                e.Row.By,
                CauseWords(e.Row.Cause),
                e.Row.RecordKind,
                e.Row.Record,
                e.Row.Record is { } id ? others.GetValueOrDefault(id) ?? logged.Names.Find(id) : null,
                e.Happening is null ? [] : AuditWords.Changes(e.Happening, logged.Names)
            )),
        ];
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
            Acting.Handing => "handed on",
            Acting.Entry => "responses recorded at once",
            Acting.System => "the program",
            _ => $"the program: {cause.Replace('_', ' ')}",
        };

    private sealed record Named(Guid Id, string Name);
}
