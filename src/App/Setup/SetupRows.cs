namespace DapperLantern.App.Setup;

/// <summary>An edition of a scoring model or a rule sheet. Old editions stay; each result names the one that made it.</summary>
public sealed class Edition
{
    public const string Scoring = "scoring";
    public const string Rules = "rules";
    public const string Matching = "matching";

    public Guid Id { get; set; }
    public string Kind { get; set; } = "";
    public int Number { get; set; }

    /// <summary>draft, live or old; at most one is live for each kind.</summary>
    public string State { get; set; } = "draft";
    public string Body { get; set; } = "{}";
    public DateTime? PublishedAt { get; set; }
    public Guid? PublishedBy { get; set; }

    /// <summary>What it is for, in somebody's words; or which edition it brings back.</summary>
    public string Note { get; set; } = "";

    /// <summary>Row version of a draft.</summary>
    public int Version { get; set; } = 1;
}

/// <summary>Setup kept as a document: value lists, custom fields.</summary>
public sealed class SetupEntry
{
    public string Key { get; set; } = "";
    public string Body { get; set; } = "{}";
}

/// <summary>Something to be sent outside, written in the transaction that caused it.</summary>
public sealed class OutboxRow
{
    /// <summary>Kind of the letters that hold a one-time address: their text is shown to nobody, and goes when they are sent.</summary>
    public const string WayIn = "way_in";

    public Guid Id { get; set; }
    public string Kind { get; set; } = "";

    /// <summary>One of us; null for a mail to somebody outside.</summary>
    public Guid? PersonId { get; set; }

    /// <summary>For a mail to somebody outside: where to, in which language, and about which lead.</summary>
    public string? ToEmail { get; set; }
    public string? Language { get; set; }
    public Guid? LeadId { get; set; }

    /// <summary>Id of the event that a message to one of us tells of; null where no event does. A person is told of one once.</summary>
    public long? EventId { get; set; }
    public string Subject { get; set; } = "";
    public string Text { get; set; } = "";
    public DateTime CreatedAt { get; set; }
    public DateTime? SentAt { get; set; }
    public int Tries { get; set; }

    /// <summary>Not tried before; null for at once.</summary>
    public DateTime? NextAt { get; set; }

    /// <summary>When a process last began to send it. One that was begun and neither sent nor put off is in doubt.</summary>
    public DateTime? ClaimedAt { get; set; }

    /// <summary>When it was given up; a person may send it again.</summary>
    public DateTime? GivenUpAt { get; set; }

    /// <summary>Why the last try failed.</summary>
    public string? Problem { get; set; }
}
