using DapperLantern.App.Data;
using DapperLantern.App.Rights;
using DapperLantern.App.Setup;
using DapperLantern.Core.Events;

namespace DapperLantern.App.Events;

/// <summary>Entries of the log as they were added, with the names of what they refer to.</summary>
internal sealed record LoggedEvents(IReadOnlyList<LoggedEvent> All, EventNames Names)
{
    /// <summary>Newest first.</summary>
    /// <param name="where">SQL over the alias e.</param>
    /// <param name="scope">What the reader sees.</param>
    /// <param name="withRecords">True to read the names of the records that the entries are of, too.</param>
    /// <param name="showsContactData">False to leave addresses and numbers out of their words.</param>
    public static async Task<LoggedEvents> Read(
        LanternDb db,
        Workspace workspace,
        SqlText where,
        int most,
        RecordScope scope,
        bool withRecords = false,
        bool showsContactData = true
    )
    {
        var rows = await db.Rows<LoggedRow>(
            $"""
            select e.id, e.at, e.kind, e.record_kind, e.record, e.cause, e.cause_id, e.said::text as said, e.personal::text as personal, p.display_name as by, b.words as many_words, b.leads
            from (select * from event e where {where:sql} order by e.at desc, e.id desc limit {most}) e
            left join person p on p.id = e.by_id left join bulk_edit b on e.cause in ('bulk', 'bulk_undo') and b.id = e.cause_id order by e.at desc, e.id desc
            """
        );
        var whole = rows.ConvertAll(r => EventLog.Whole(r.Said, r.Personal));
        var ids = whole.SelectMany(EventNames.Ids);
        var names = await EventNames.Of(db, workspace, withRecords ? ids.Concat(rows.Select(r => r.Record).OfType<Guid>()) : ids, scope, showsContactData);
        return new LoggedEvents([.. rows.Zip(whole, (r, w) => new LoggedEvent(r, EventLog.Read(r.Kind, w)))], names);
    }
}

/// <param name="Happening">Null for a kind that this program does not know.</param>
internal sealed record LoggedEvent(LoggedRow Row, Happening? Happening);

/// <summary>An entry of the log with the names that stand beside it.</summary>
internal sealed record LoggedRow
{
    public long Id { get; init; }
    public DateTime At { get; init; }
    public string Kind { get; init; } = "";
    public string? RecordKind { get; init; }
    public Guid? Record { get; init; }
    public string Cause { get; init; } = "";
    public Guid? CauseId { get; init; }
    public string Said { get; init; } = "{}";
    public string? Personal { get; init; }

    /// <summary>Name of the person.</summary>
    public string? By { get; init; }

    /// <summary>The words of the change to many that this was part of; null for none.</summary>
    public string? ManyWords { get; init; }

    /// <summary>How many leads that was of.</summary>
    public int? Leads { get; init; }

    /// <summary>The same words as a story tells them.</summary>
    public string? Many() =>
        ManyWords is null ? null
        : Cause == Acting.BulkUndo ? $"Taken back: {ManyWords}"
        : Leads > 1 ? $"{ManyWords}, with {Leads - 1} more"
        : ManyWords;
}
