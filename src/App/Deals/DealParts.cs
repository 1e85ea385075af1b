using System.Security.Claims;
using Dapper;
using DapperLantern.App.Data;
using DapperLantern.App.Leads.Activities;
using DapperLantern.App.Setup;
using DapperLantern.Core.Fields;
using Microsoft.AspNetCore.Http.HttpResults;

namespace DapperLantern.App.Deals;

/// <summary>What belongs to a deal: people with their parts, products, competitors, next steps, notes.</summary>
public static class DealParts
{
    private const int MostRivals = 20;
    private const int LongestNote = 10_000;

    public static void MapDealParts(this IEndpointRouteBuilder api)
    {
        var work = api.MapGroup("/deals/{id:guid}").Requires(Act.WorkDeals).WithTags("Deals");
        work.MapPost("/people", Join).WithSummary("Give somebody a part in a deal");
        work.MapPut("/people/{person:guid}", Recast).WithSummary("Change the part somebody has");
        work.MapDelete("/people/{person:guid}", Leave).WithSummary("Take somebody off a deal");
        work.MapPut("/products", Products).WithSummary("What is to be sold, how many, at what price");
        work.MapPut("/rivals", Rivals).WithSummary("Who else sells to them");
        work.MapPost("/tasks", Plan).WithSummary("Plan the next step of a deal");
        work.MapPost("/touches", Touch).WithSummary("Record a note or a call");
    }

    private static Choice? Role(Installation installation, string role) => role.Length == 0 ? new Choice("", "") : installation.Value(PickList.Roles, role);

    private static (string?, ProblemHttpResult?) NoRole(string role) => (null, Trouble.Invalid("role-unknown", $"There is no role “{role}” in the list; add it first.", "role"));

    private static Task<Results<Ok<DealSheet>, ProblemHttpResult>> Join(Guid id, PersonOnDeal body, ClaimsPrincipal user, DealWork work, Installation installation) =>
        work.Do(
            id,
            user,
            "deal",
            async (connection, deal) =>
            {
                if (Role(installation, body.Role ?? "") is not { } role)
                    return NoRole(body.Role!);
                if (
                    await connection.QuerySingleOrDefaultAsync<(string Name, Guid? Owner)?>(
                        "select name, owner_id from contact where id = @ContactId for share",
                        new { body.ContactId }
                    )
                    is not var (name, owner)
                )
                    return (null, Trouble.Invalid("contact-unknown", "The contact chosen is no longer there.", "contactId"));
                // Whoever is on a deal can be written to from it, so a contact of somebody else is put there by somebody who may.
                if (Permissions.OwnOnly(user.Role()) && owner is { } other && other != user.Id())
                    return (null, Trouble.Of(403, "not-yours", $"{name} is the contact of a colleague. Ask them, or your manager, to put them on this deal."));
                var made = await connection.ExecuteAsync(
                    """
                    insert into deal_person (id, deal_id, contact_id, role, at) select gen_random_uuid(), @Id, @ContactId, @Key, @now
                    where not exists (select 1 from deal_person where deal_id = @Id and contact_id = @ContactId and role = @Key)
                    """,
                    new
                    {
                        deal.Id,
                        body.ContactId,
                        role.Key,
                        now = work.Now,
                    }
                );
                return (made == 0 ? null : $"{name} joined{(role.Key.Length == 0 ? "" : $" as {role.Label.ToLowerInvariant()}")}", null);
            }
        );

    private static Task<Results<Ok<DealSheet>, ProblemHttpResult>> Recast(
        Guid id,
        Guid person,
        PersonOnDeal body,
        ClaimsPrincipal user,
        DealWork work,
        Installation installation
    ) =>
        work.Do(
            id,
            user,
            "deal",
            async (connection, deal) =>
            {
                if (Role(installation, body.Role ?? "") is not { } role)
                    return NoRole(body.Role!);
                var name = await connection.QuerySingleOrDefaultAsync<string>(
                    """
                    with p as (update deal_person set role = @Key where deal_id = @Id and id = @person returning contact_id) select c.name from contact c join p on p.contact_id = c.id
                    """,
                    new
                    {
                        deal.Id,
                        person,
                        role.Key,
                    }
                );
                return name is null
                    ? (null, Trouble.NotFound("person on the deal"))
                    : ($"{name} is {(role.Key.Length == 0 ? "there without a part of their own" : role.Label.ToLowerInvariant())} now", null);
            }
        );

    private static Task<Results<Ok<DealSheet>, ProblemHttpResult>> Leave(Guid id, Guid person, ClaimsPrincipal user, DealWork work) =>
        work.Do(
            id,
            user,
            "deal",
            async (connection, deal) =>
            {
                var name = await connection.QuerySingleOrDefaultAsync<string>(
                    "with p as (delete from deal_person where deal_id = @Id and id = @person returning contact_id) select c.name from contact c join p on p.contact_id = c.id",
                    new { deal.Id, person }
                );
                return name is null ? (null, Trouble.NotFound("person on the deal")) : ($"{name} was taken off", null);
            }
        );

    private static Task<Results<Ok<DealSheet>, ProblemHttpResult>> Products(Guid id, ProductsOnDeal body, ClaimsPrincipal user, DealWork work, Installation installation) =>
        work.Do(
            id,
            user,
            "deal",
            async (connection, deal) =>
            {
                if (body.Products is not { Count: <= DealTerms.MostProducts })
                    return (null, Trouble.Invalid("too-many", $"At most {DealTerms.MostProducts} products.", "products"));
                if (DealTerms.OddProduct(body.Products, installation) is { } odd)
                    return (null, odd);
                await connection.ExecuteAsync("delete from deal_product where deal_id = @Id", new { deal.Id });
                await connection.ExecuteAsync(DealTerms.PutSql, DealTerms.ValuesOf(deal.Id, body.Products));
                var total = body.Products.Sum(p => p.Quantity * p.Price);
                var words =
                    body.Products.Count == 0
                        ? "No products now"
                        : $"Products: {string.Join(", ", body.Products.Select(p => $"{p.Quantity:0.##} {installation.Products.First(k => k.Key == p.Product).Name}"))}";
                if (body.AmountFollows && total != deal.Amount)
                {
                    words += $"; amount follows, {total:0.##} {deal.Currency}";
                    deal.Amount = total;
                }
                return (words, null);
            }
        );

    private static Task<Results<Ok<DealSheet>, ProblemHttpResult>> Rivals(Guid id, RivalsOnDeal body, ClaimsPrincipal user, DealWork work, Installation installation) =>
        work.Do(
            id,
            user,
            "deal",
            async (connection, deal) =>
            {
                var known = installation.List(PickList.Competitors).ToDictionary(c => c.Key, c => c.Label);
                if (
                    body.Rivals is not { Count: <= MostRivals }
                    || body.Rivals.Any(r => !known.ContainsKey(r.Rival) || (r.Note ?? "").Length > 500)
                    || body.Rivals.DistinctBy(r => r.Rival).Count() < body.Rivals.Count
                )
                    return (null, Trouble.Invalid("competitor-unknown", "Choose competitors of the list, each once, with at most 500 letters about them.", "rivals"));
                await connection.ExecuteAsync(
                    "delete from deal_rival where deal_id = @Id; insert into deal_rival (deal_id, rival, note) select @Id, x.rival, x.note from unnest(@rivals, @notes) x(rival, note)",
                    new
                    {
                        deal.Id,
                        rivals = body.Rivals.Select(r => r.Rival).ToArray(),
                        notes = body.Rivals.Select(r => FieldReader.Clean(r.Note ?? "")).ToArray(),
                    }
                );
                return (body.Rivals.Count == 0 ? "No competitors known now" : $"Competitors: {string.Join(", ", body.Rivals.Select(r => known[r.Rival]))}", null);
            }
        );

    private static Task<Results<Ok<DealSheet>, ProblemHttpResult>> Plan(Guid id, TaskWrite body, ClaimsPrincipal user, DealWork work) =>
        work.Do(
            id,
            user,
            "deal",
            async (connection, deal) =>
            {
                if (await TaskEndpoints.Wrong(connection, body, user, work.Clock) is { } wrong)
                    return (null, wrong);
                await connection.ExecuteAsync(
                    "insert into task (id, deal_id, contact_id, owner_id, subject, due_at, repeat) values (gen_random_uuid(), @Id, @ContactId, @owner, @subject, @due, @Repeat)",
                    new
                    {
                        deal.Id,
                        deal.ContactId,
                        owner = body.Owner ?? user.Id(),
                        subject = body.Subject.Trim(),
                        due = body.DueAt.ToUniversalTime(),
                        body.Repeat,
                    }
                );
                return ($"Planned: {body.Subject.Trim()}", null);
            }
        );

    private static Task<Results<Ok<DealSheet>, ProblemHttpResult>> Touch(Guid id, DealTouch body, ClaimsPrincipal user, DealWork work) =>
        work.Do(
            id,
            user,
            body.Kind == "call" ? "call" : "note",
            (_, _) =>
                Task.FromResult<(string?, ProblemHttpResult?)>(
                    body.Kind is not ("note" or "call") || (body.Text ?? "").Trim() is not { Length: > 0 and <= LongestNote }
                        ? (null, Trouble.Invalid("text-missing", $"Write up to {LongestNote:N0} letters, as a note or a call.", "text"))
                        : (body.Text!.Trim(), null)
                )
        );
}
