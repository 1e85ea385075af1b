namespace DapperLantern.Core.Events;

/// <summary>A record was made.</summary>
[EventKind("made")]
public sealed record Made(Guid? Lead = null, string? Pipeline = null, string? Stage = null, decimal? Amount = null, string? Currency = null) : Happening;

/// <summary>A deal entered an open stage. Written by the database with the change.</summary>
/// <param name="Opened">True where it was closed before.</param>
[EventKind("stage")]
public sealed record StageChanged(string Pipeline, string From, string To, decimal Amount, string Currency, bool? Opened = null) : Happening;

/// <summary>A deal was won.</summary>
[EventKind("won")]
public sealed record DealWon(string Pipeline, string From, string To, decimal Amount, string Currency) : Happening;

/// <summary>A deal was lost.</summary>
/// <param name="Reason">Key of the list of reasons.</param>
/// <param name="LostTo">Key of the competitor.</param>
[EventKind("lost")]
public sealed record DealLost(string Pipeline, string From, string To, decimal Amount, string Currency, string? Reason = null, string? LostTo = null) : Happening;

/// <summary>The amount of a deal changed. Written by the database with the change.</summary>
[EventKind("amount")]
public sealed record AmountChanged(decimal From, string FromCurrency, decimal To, string Currency, Why? Why = null) : Happening;

/// <summary>The day on which a deal is expected to close was moved. Written by the database with the change.</summary>
[EventKind("close")]
public sealed record CloseMoved(DateOnly From, DateOnly To) : Happening;

/// <summary>A deal got another name.</summary>
[EventKind("deal_named")]
public sealed record DealNamed([property: Personal] string? From = null, [property: Personal] string? To = null) : Happening;

/// <summary>A deal's probability was said, or follows its stage again.</summary>
[EventKind("probability")]
public sealed record ProbabilitySaid(int? Percent) : Happening;

/// <summary>Somebody's part in a deal changed.</summary>
/// <param name="What">joined, role or left.</param>
/// <param name="Role">Key of the list of roles; empty for none.</param>
[EventKind("people")]
public sealed record DealPeopleChanged(Guid Contact, string What, string Role = "", [property: Personal] string? Name = null) : Happening;

/// <summary>A product of a deal.</summary>
public sealed record DealProduct(string Product, decimal Quantity, decimal Price);

/// <summary>What is to be sold changed.</summary>
[EventKind("product")]
public sealed record DealProductsChanged(DealProduct[] Products) : Happening;

/// <summary>The competitors known of a deal changed.</summary>
/// <param name="Competitors">Keys of the list.</param>
[EventKind("competitor")]
public sealed record DealCompetitorsChanged(string[] Competitors) : Happening;

/// <summary>An account got a further address, or one was changed or dropped.</summary>
/// <param name="What">added, changed or dropped.</param>
[EventKind("address")]
public sealed record AddressChanged(string What, string AddressKind) : Happening;
