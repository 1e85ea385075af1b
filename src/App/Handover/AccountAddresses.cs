using System.Security.Claims;
using DapperLantern.App.Data;
using DapperLantern.App.Events;
using DapperLantern.App.Rights;
using DapperLantern.Core.Events;
using DapperLantern.Core.Fields;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Handover;

/// <param name="Kind">billing, delivery or other.</param>
public sealed record AddressWrite(
    [Text(100)] string Kind,
    [Text(200)] string Street = "",
    [Text(200)] string PostalCode = "",
    [Text(200)] string City = "",
    [Text(200)] string Region = "",
    [Text(100)] string Country = ""
);

/// <param name="From">The address it is taken from; null for the account's main one.</param>
public sealed record AddressCopy([Text(100)] string Kind, Guid? From = null);

/// <summary>Addresses of an account beside its main one.</summary>
internal static class AccountAddresses
{
    private const int MostAddresses = 50;

    public static void MapAddresses(this IEndpointRouteBuilder work)
    {
        work.MapPost("/{id:guid}/addresses", AddAddress).WithSummary("Add an address");
        work.MapPost("/{id:guid}/addresses/copy", CopyAddress).WithSummary("Add an address that is the same as another");
        work.MapPut("/{id:guid}/addresses/{address:guid}", ChangeAddress).WithSummary("Change an address");
        work.MapDelete("/{id:guid}/addresses/{address:guid}", DropAddress).WithSummary("Drop an address");
    }

    private static Task<Results<Ok<AccountSheet>, ProblemHttpResult>> AddAddress(Guid id, AddressWrite body, ClaimsPrincipal user, LanternDb db, AccountQueries accounts) =>
        WithAddress(id, user, db, accounts, db => Insert(db, id, body));

    private static Task<Results<Ok<AccountSheet>, ProblemHttpResult>> ChangeAddress(
        Guid id,
        Guid address,
        AddressWrite body,
        ClaimsPrincipal user,
        LanternDb db,
        AccountQueries accounts
    ) =>
        WithAddress(
            id,
            user,
            db,
            accounts,
            async db =>
            {
                var (written, wrong) = Checked(body);
                if (wrong is not null)
                    return (null, wrong);
                var changed = await db.Set<AccountAddressRow>()
                    .Where(x => x.Id == address && x.AccountId == id)
                    .ExecuteUpdateAsync(s =>
                        s.SetProperty(x => x.Kind, written!.Kind)
                            .SetProperty(x => x.Street, written.Street)
                            .SetProperty(x => x.PostalCode, written.PostalCode)
                            .SetProperty(x => x.City, written.City)
                            .SetProperty(x => x.Region, written.Region)
                            .SetProperty(x => x.Country, written.Country)
                    );
                return changed == 0 ? (null, Problem.NotFound("address")) : (new AddressChanged("changed", written!.Kind), null);
            }
        );

    private static Task<Results<Ok<AccountSheet>, ProblemHttpResult>> CopyAddress(Guid id, AddressCopy body, ClaimsPrincipal user, LanternDb db, AccountQueries accounts) =>
        WithAddress(
            id,
            user,
            db,
            accounts,
            async db =>
            {
                var from = body.From is { } other
                    ? await db.Set<AccountAddressRow>()
                        .Where(x => x.Id == other && x.AccountId == id)
                        .Select(x => new AddressView(x.Id, x.Kind, x.Street, x.PostalCode, x.City, x.Region, x.Country))
                        .SingleOrDefaultAsync()
                    : AccountQueries.MainAddress(await db.Set<Account>().Where(x => x.Id == id).Select(x => x.Facts).SingleAsync()).FirstOrDefault();
                return from is null
                    ? (null, Problem.Of("address-missing", "from"))
                    : await Insert(db, id, new AddressWrite(body.Kind, from.Street, from.PostalCode, from.City, from.Region, from.Country));
            }
        );

    private static Task<Results<Ok<AccountSheet>, ProblemHttpResult>> DropAddress(Guid id, Guid address, ClaimsPrincipal user, LanternDb db, AccountQueries accounts) =>
        WithAddress(
            id,
            user,
            db,
            accounts,
            async db =>
                await db.Row<string>($"""delete from account_address where id = {address} and account_id = {id} returning kind as "Value" """) is { } kind
                    ? (new AddressChanged("dropped", kind), null)
                    : (null, Problem.NotFound("address"))
        );

    private static async Task<(AddressChanged?, Problem?)> Insert(LanternDb db, Guid id, AddressWrite body)
    {
        var (written, wrong) = Checked(body);
        if (wrong is not null)
            return (null, wrong);
        if (await db.Set<AccountAddressRow>().CountAsync(x => x.AccountId == id) >= MostAddresses)
            return (null, Problem.Of("full", "", MostAddresses, "further addresses"));
        await db.Insert(
            new AccountAddressRow
            {
                Id = Guid.CreateVersion7(),
                AccountId = id,
                Kind = written!.Kind,
                Street = written.Street,
                PostalCode = written.PostalCode,
                City = written.City,
                Region = written.Region,
                Country = written.Country,
            }
        );
        return (new AddressChanged("added", written.Kind), null);
    }

    private static (AddressWrite?, Problem?) Checked(AddressWrite body)
    {
        if (body.Kind is not ("billing" or "delivery" or "other"))
            return (null, Problem.Of("address-kind-unknown", "kind"));
        var (street, code, city, region) = (
            FieldReader.Clean(body.Street ?? ""),
            FieldReader.Clean(body.PostalCode ?? ""),
            FieldReader.Clean(body.City ?? ""),
            FieldReader.Clean(body.Region ?? "")
        );
        if ((street + code + city).Length == 0 || new[] { street, code, city, region }.Any(p => p.Length > 200))
            return (null, Problem.Of("address-empty", "street"));
        if (string.IsNullOrWhiteSpace(body.Country))
            return (new AddressWrite(body.Kind, street, code, city, region), null);
        return Countries.Find(body.Country) is { } country
            ? (new AddressWrite(body.Kind, street, code, city, region, country), null)
            : (null, Problem.Of("country-unknown", "country", body.Country));
    }

    private static async Task<Results<Ok<AccountSheet>, ProblemHttpResult>> WithAddress(
        Guid id,
        ClaimsPrincipal user,
        LanternDb db,
        AccountQueries accounts,
        Func<LanternDb, Task<(AddressChanged? Told, Problem? Wrong)>> work
    )
    {
        await using var transaction = await db.Database.BeginTransactionAsync();
        if (await AccountEndpoints.Lock(db, id, user) is { } no)
            return ApiProblems.Of(no);
        var (told, wrong) = await work(db);
        if (wrong is not null)
            return ApiProblems.Of(wrong);
        await db.Log(EventLog.Account, id, told!);
        await PeopleChange.Tell(db);
        await transaction.CommitAsync();
        return TypedResults.Ok((await accounts.Sheet(db, id, user))!);
    }
}
