using DapperLantern.App.Data;
using DapperLantern.App.Deals;
using DapperLantern.App.Rights;
using DapperLantern.App.Setup;
using DapperLantern.Core.Handover;

namespace DapperLantern.App.Handover;

/// <summary>Another open lead of the same company that becomes a further contact on the deal.</summary>
/// <param name="ContactId">The contact it is; null to make one, or to link the one that is the same beyond doubt.</param>
/// <param name="NewContact">True to make one even where one may be the same.</param>
/// <param name="Role">Its part in the deal; empty for none in particular.</param>
public sealed record AlongOrder(
    [property: OfRecord("lead")] Guid LeadId,
    [Text(100)] string Role = "",
    [property: OfRecord("contact")] Guid? ContactId = null,
    bool NewContact = false
);

/// <summary>The act. No account id with <see cref="NewAccount"/> makes a new account even where one may be the same; so with the contact.</summary>
/// <param name="Take">Keys of facts where the lead's value replaces that of the existing record.</param>
/// <param name="Pipeline">Key of the pipeline the deal goes into, at its first stage.</param>
public sealed record HandoverOrder(
    [property: OfRecord("account")] Guid? AccountId,
    bool NewAccount,
    [property: OfRecord("contact")] Guid? ContactId,
    [Count(500, Each = 100)] IReadOnlyList<string> Take,
    [Text(100)] string Pipeline,
    [Text(200)] string DealName,
    [Between(0d, 1_000_000_000_000d)] decimal Amount,
    [Text(20)] string Currency,
    DateOnly ExpectedClose
)
{
    public bool NewContact { get; init; }

    /// <summary>None for a private person, household where one is wanted; null as the sheet proposes.</summary>
    public AccountKind? Makes { get; init; }

    /// <summary>What a new account is called; null for the sheet's proposal.</summary>
    [Text(200)]
    public string? AccountName { get; init; }

    /// <summary>Keys of facts that are left behind on purpose.</summary>
    [Count(500, Each = 100)]
    public IReadOnlyList<string> Drop { get; init; } = [];

    /// <summary>The contact's part in the deal; empty for none in particular.</summary>
    [Text(100)]
    public string Role { get; init; } = "";

    [Count(100)]
    public IReadOnlyList<OrderedProduct> Products { get; init; } = [];

    [Count(50)]
    public IReadOnlyList<AlongOrder> Along { get; init; } = [];
}

/// <summary>What can be wrong with an order by itself.</summary>
public static class HandoverCheck
{
    /// <summary>Null when nothing is.</summary>
    public static Problem? Wrong(HandoverOrder order, Workspace workspace)
    {
        if (DealTerms.Wrong(order.DealName ?? "", order.Amount, order.Currency ?? "", order.ExpectedClose, "dealName") is { } unfit)
            return unfit;
        if (order.AccountName is { } name && (string.IsNullOrWhiteSpace(name) || name.Length > 200))
            return Problem.Of("name-missing", "accountName", 200);
        if (DealTerms.OddProduct(order.Products, workspace) is { } odd)
            return odd;
        if (order.Along.Select(a => a.Role).Append(order.Role).FirstOrDefault(r => r.Length > 0 && workspace.Value(PickList.Roles, r) is null) is { } role)
            return Problem.Of("deal-role-unknown", "role", role);
        return order.Along.DistinctBy(a => a.LeadId).Count() < order.Along.Count ? Problem.Of("along-twice", "along") : null;
    }
}
