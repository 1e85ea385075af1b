namespace DapperLantern.App.Setup;

/// <summary>Where people reach this installation.</summary>
[Settings("Public")]
public sealed class PublicSettings
{
    /// <summary>Stands in links of mails; its host is always one of ours.</summary>
    [WebAddress]
    public string Address { get; set; } = "http://127.0.0.1:5080";

    /// <summary>The address of a page here.</summary>
    /// <param name="path">From its first /.</param>
    public string Of(string path) => Address.TrimEnd('/') + path;

    /// <summary>True where that is an address of TLS.</summary>
    public bool IsBehindTls => Address.StartsWith("https://", StringComparison.OrdinalIgnoreCase);
}

/// <summary>The proxies in front.</summary>
[Settings("Proxy")]
public sealed class ProxySettings
{
    /// <summary>Only these are believed about the visitor they stand before.</summary>
    [Networks]
    public string? Addresses { get; set; }

    public static string[] Split(string? written) => (written ?? "").Split([';', ',', ' '], StringSplitOptions.RemoveEmptyEntries);
}

/// <summary>How mails leave.</summary>
[Settings("Outbox")]
public sealed class OutboxSettings
{
    /// <summary>The sender of every mail; null for none.</summary>
    [Mailbox]
    public string? From { get; set; }

    /// <summary>The mail server; null for none.</summary>
    [MailServer]
    public string? Smtp { get; set; }

    /// <summary>A Maildir where mails are caught that no mail server takes; null for none.</summary>
    public string? Folder { get; set; }
}

/// <summary>How letters come in.</summary>
[Settings("Mailbox")]
public sealed class MailboxSettings
{
    /// <summary>A Maildir into which letters are delivered; null for none.</summary>
    public string? Folder { get; set; }
}

/// <summary>Limits of sign-in.</summary>
[Settings("SignIn")]
public sealed class SignInSettings
{
    /// <summary>Sign-ins from one address: an office has one, and comes in at nine.</summary>
    [Within(1, 1_000_000_000)]
    public int PerMinute { get; set; } = 300;
}

/// <summary>Limits of public forms.</summary>
[Settings("Forms")]
public sealed class PublicFormSettings
{
    /// <summary>Posts from one address.</summary>
    [Within(1, 1_000_000_000)]
    public int PostsPerMinute { get; set; } = 60;
}

/// <summary>Limits of the interface for other programs.</summary>
[Settings("Http")]
public sealed class HttpSettings
{
    /// <summary>Calls of one token.</summary>
    [Within(1, 1_000_000_000)]
    public int CallsPerMinute { get; set; } = 600;
}

/// <summary>Work that looks for what is due.</summary>
[Settings("Clocks")]
public sealed class ClockSettings
{
    /// <summary>Seconds between two looks.</summary>
    [Within(1, 86_400)]
    public int LookSeconds { get; set; } = 10;

    public TimeSpan Look => TimeSpan.FromSeconds(LookSeconds);
}

/// <summary>Answers that tell whose an address or number is.</summary>
[Settings("Reading")]
public sealed class ReadingSettings
{
    /// <summary>People of colleagues that one person is told of within an hour.</summary>
    [Within(1, 1_000_000_000)]
    public int PeoplePerHour { get; set; } = 120;
}

/// <summary>The Desk and the counts of the line.</summary>
[Settings("Desk")]
public sealed class DeskSettings
{
    /// <summary>Seconds that what was counted is shown to those for whom it would come out the same; 0 counts each time.</summary>
    [Within(0, 60)]
    public double SharedSeconds { get; set; } = 2;
}

/// <summary>How long it is waited before the short way is taken.</summary>
[Settings("")]
public sealed class PatienceSettings
{
    /// <summary>More on a slow machine.</summary>
    [Within(0.1, 100)]
    public double Patience { get; set; } = 1;
}

/// <summary>Files of the client.</summary>
[Settings("Client")]
public sealed class ClientSettings
{
    public string Folder { get; set; } = "src/client/dist";
}

/// <summary>The demo company.</summary>
[Settings("Demo")]
public sealed class DemoSettings
{
    /// <summary>True to load it into an empty database, and to offer its people at sign-in.</summary>
    public bool Enabled { get; set; }

    /// <summary>Where its files are.</summary>
    public string Folder { get; set; } = "demo";
}
