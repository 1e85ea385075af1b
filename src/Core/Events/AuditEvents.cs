using System.Text.Json;

namespace DapperLantern.Core.Events;

/// <summary>A person signed in. Written by the database with the session.</summary>
[EventKind("signin")]
public sealed record SignedIn([property: Personal] string? Address = null, [property: Personal] string? Device = null) : Happening;

/// <summary>A session ended before its time. Written by the database with the session.</summary>
/// <param name="Because">signed-out, ended, left, role, password or provider.</param>
[EventKind("signout")]
public sealed record SignedOut(string? Because = null, [property: Personal] string? Address = null, [property: Personal] string? Device = null) : Happening;

/// <summary>A sign-in failed, or the old password was wrong.</summary>
/// <param name="Name">The name that was typed.</param>
[EventKind("signin_failed")]
public sealed record SignInFailed([property: Personal] string? Name = null, [property: Personal] string? Address = null) : Happening;

/// <summary>A person took another password.</summary>
[EventKind("password")]
public sealed record PasswordChanged : Happening;

/// <summary>A person's second step at the sign-in was made or ended.</summary>
/// <param name="What">codes, recovery, passkey or all.</param>
[EventKind("second_step")]
public sealed record SecondStepChanged(string What, bool On) : Happening;

/// <summary>A person came in by the identity provider for the first time.</summary>
[EventKind("provider")]
public sealed record ProviderLinked(string Issuer) : Happening;

/// <summary>A person's account at the identity provider is known no more.</summary>
[EventKind("provider_forgotten")]
public sealed record ProviderForgotten : Happening;

/// <summary>An address that opens once was made for a person.</summary>
/// <param name="For">Invitation or Password.</param>
[EventKind("way_in")]
public sealed record WayInMade(string For) : Happening;

/// <summary>Data left the program as a file.</summary>
/// <param name="What">leads, counts, rows of a list, a person's file, addresses of a campaign, the log.</param>
/// <param name="Rows">Null where they were not counted.</param>
[EventKind("exported")]
public sealed record Exported(string What, int? Rows = null) : Happening;

/// <summary>Work of the program that had failed was tried again, or left out, by hand.</summary>
/// <param name="Work">What was to be done, in words.</param>
[EventKind("failed_work")]
public sealed record FailedWorkSettled(string Work, bool Again) : Happening;

/// <summary>A person was told of more people of colleagues than the limit of an hour allows. The record is the reader.</summary>
[EventKind("read_much")]
public sealed record MuchRead(int People) : Happening;

/// <summary>Something of the set-up changed. Written by the database with the change.</summary>
/// <param name="What">The table: tag, source, pipeline and so on.</param>
/// <param name="Key">Key or name of the entry.</param>
/// <param name="Done">added, changed or removed.</param>
/// <param name="From">The columns that changed, as they were; null where it was added.</param>
/// <param name="To">The same as they are now; null where it was removed.</param>
[EventKind("setup")]
public record SetupChanged(string What, string Key, string Done, IReadOnlyDictionary<string, JsonElement>? From = null, IReadOnlyDictionary<string, JsonElement>? To = null)
    : Happening;

/// <summary>A person came, left, or got another role.</summary>
[EventKind("rights")]
public sealed record RightsChanged(string What, string Key, string Done, IReadOnlyDictionary<string, JsonElement>? From = null, IReadOnlyDictionary<string, JsonElement>? To = null)
    : SetupChanged(What, Key, Done, From, To);

/// <summary>An access token was made or revoked.</summary>
[EventKind("token")]
public sealed record TokenChanged(string What, string Key, string Done, IReadOnlyDictionary<string, JsonElement>? From = null, IReadOnlyDictionary<string, JsonElement>? To = null)
    : SetupChanged(What, Key, Done, From, To);

/// <summary>An edition of the model, the rules or a form went live.</summary>
[EventKind("published")]
public sealed record Published(string What, string Key, string Done, IReadOnlyDictionary<string, JsonElement>? From = null, IReadOnlyDictionary<string, JsonElement>? To = null)
    : SetupChanged(What, Key, Done, From, To);
