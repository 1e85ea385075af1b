using DapperLantern.App.Data;
using DapperLantern.Core.Intake;

namespace DapperLantern.App.Intake;

/// <summary>One thing that came in by itself, by form, mail, telephone or HTTP, kept as it came with what became of it.</summary>
public sealed class SingleArrival
{
    /// <summary>It became a lead, or added to one.</summary>
    public const string Taken = "taken";

    /// <summary>It waits for a person: it looks like spam, is barred, or says too little.</summary>
    public const string Waiting = "waiting";

    /// <summary>A person set it aside for good; it stays as it came.</summary>
    public const string SetAside = "set_aside";

    public Guid Id { get; set; }

    /// <summary>form, mail, phone or http.</summary>
    public string Channel { get; set; } = "";
    public string Source { get; set; } = "";
    public string? Campaign { get; set; }

    /// <summary>For a form, its key and the edition posted.</summary>
    public string? FormKey { get; set; }
    public int? FormEdition { get; set; }
    public DateTime At { get; set; }

    /// <summary>JSON: what came, by name, as it came.</summary>
    public string Raw { get; set; } = "{}";

    /// <summary>JSON: what came along unseen, by name: page, referrer, link parameters.</summary>
    public string Labels { get; set; } = "{}";
    public string State { get; set; } = Taken;

    /// <summary>JSON list of why it waits, with points where it was rated; null when it does not.</summary>
    public string? Reasons { get; set; }

    /// <summary>One of <see cref="SiftOutcome"/> once it was looked at.</summary>
    public string Outcome { get; set; } = "";
    public string Reason { get; set; } = "";
    public Guid? LeadId { get; set; }

    /// <summary>Made by who sends, so that the same thing sent twice is kept once.</summary>
    public Guid? Key { get; set; }

    /// <summary>Hash of its long answer, by which copies are noticed.</summary>
    public long? TextKey { get; set; }

    private static readonly BulkTable<SingleArrival> Table = new BulkTable<SingleArrival>("single_arrival")
        .Uuid("id", a => a.Id)
        .Text("channel", a => a.Channel)
        .Text("source", a => a.Source)
        .Text("campaign", a => a.Campaign)
        .Text("form_key", a => a.FormKey)
        .Int("form_edition", a => a.FormEdition)
        .Moment("at", a => a.At)
        .Json("raw", a => a.Raw)
        .Json("labels", a => a.Labels)
        .Text("state", a => a.State)
        .Json("reasons", a => a.Reasons)
        .Text("outcome", a => a.Outcome)
        .Text("reason", a => a.Reason)
        .Uuid("lead_id", a => a.LeadId)
        .Uuid("key", a => a.Key)
        .Long("text_key", a => a.TextKey);

    /// <summary>Keeps arrivals within the caller's transaction.</summary>
    public static Task Save(LanternDb db, IEnumerable<SingleArrival> arrivals, CancellationToken cancel) => Table.Write(db, arrivals, cancel);
}
