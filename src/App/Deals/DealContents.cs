using System.Security.Claims;
using DapperLantern.App.Data;
using DapperLantern.App.Leads;
using DapperLantern.App.Leads.Activities;
using DapperLantern.App.Setup;
using DapperLantern.Core.Fields;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Deals;

/// <summary>What belongs to a deal: people with their parts, products, competitors, next steps, notes.</summary>
public static class DealContents
{
    private const int MostCompetitors = 20;
    private const int LongestNote = 10_000;

    public static void MapDealParts(this IEndpointRouteBuilder api)
    {
        var work = api.MapGroup("/deals/{id:guid}").Requires(Act.WorkDeals).WithTags("Deals");
        work.MapPost("/people", Join).WithSummary("Give somebody a part in a deal");
        work.MapPut("/people/{person:guid}", Recast).WithSummary("Change the part somebody has");
        work.MapDelete("/people/{person:guid}", Leave).WithSummary("Take somebody off a deal");
        work.MapPut("/products", Products).WithSummary("What is to be sold, how many, at what price");
        work.MapPut("/competitors", Competitors).WithSummary("Who else sells to them");
        work.MapPost("/tasks", Plan).WithSummary("Plan the next step of a deal");
        work.MapPost("/touches", Touch).WithSummary("Record a note or a call");
    }

    private static Choice? Role(Workspace workspace, string role) => role.Length == 0 ? new Choice("", "") : workspace.Value(PickList.Roles, role);

    private static (string?, ProblemHttpResult?) NoRole(string role) =>
        (null, ApiProblems.Invalid("role-unknown", $"There is no role “{role}” in the list; add it first.", "role"));

    private static Task<Results<Ok<DealSheet>, ProblemHttpResult>> Join(Guid id, PersonOnDeal body, ClaimsPrincipal user, DealWork work, Workspace workspace) =>
        work.Do(
            id,
            user,
            "deal",
            async (db, deal) =>
            {
                if (Role(workspace, body.Role ?? "") is not { } role)
                    return NoRole(body.Role!);
                if (await db.Row<NamedOwned>($"select name, owner_id from contact where id = {body.ContactId} for share") is not var (name, owner))
                    return (null, ApiProblems.Invalid("contact-unknown", "The contact chosen is no longer there.", "contactId"));
                // Whoever is on a deal can be written to from it, so a contact of somebody else is put there by somebody who may.
                if (Permissions.OwnOnly(user.Role()) && owner is { } other && other != user.Id())
                    return (null, ApiProblems.Of(403, "not-yours", $"{name} is the contact of a colleague. Ask them, or your manager, to put them on this deal."));
                var made = await db.Run(
                    $"""
                    insert into deal_person (id, deal_id, contact_id, role, at) select gen_random_uuid(), {deal.Id}, {body.ContactId}, {role.Key}, {work.Now}
                    where not exists (select 1 from deal_person where deal_id = {deal.Id} and contact_id = {body.ContactId} and role = {role.Key})
                    """
                );
                return (made == 0 ? null : $"{name} joined{(role.Key.Length == 0 ? "" : $" as {role.Label.ToLowerInvariant()}")}", null);
            }
        );

    private static Task<Results<Ok<DealSheet>, ProblemHttpResult>> Recast(Guid id, Guid person, PersonOnDeal body, ClaimsPrincipal user, DealWork work, Workspace workspace) =>
        work.Do(
            id,
            user,
            "deal",
            async (db, deal) =>
            {
                if (Role(workspace, body.Role ?? "") is not { } role)
                    return NoRole(body.Role!);
                var name = await db.Row<string>(
                    $"""
                    with p as (update deal_person set role = {role.Key} where deal_id = {deal.Id} and id = {person} returning contact_id) select c.name as "Value" from contact c join p on p.contact_id = c.id
                    """
                );
                return name is null
                    ? (null, ApiProblems.NotFound("person on the deal"))
                    : ($"{name} is {(role.Key.Length == 0 ? "there without a part of their own" : role.Label.ToLowerInvariant())} now", null);
            }
        );

    private static Task<Results<Ok<DealSheet>, ProblemHttpResult>> Leave(Guid id, Guid person, ClaimsPrincipal user, DealWork work) =>
        work.Do(
            id,
            user,
            "deal",
            async (db, deal) =>
            {
                var name = await db.Row<string>(
                    $"""with p as (delete from deal_person where deal_id = {deal.Id} and id = {person} returning contact_id) select c.name as "Value" from contact c join p on p.contact_id = c.id"""
                );
                return name is null ? (null, ApiProblems.NotFound("person on the deal")) : ($"{name} was taken off", null);
            }
        );

    private static Task<Results<Ok<DealSheet>, ProblemHttpResult>> Products(Guid id, ProductsOnDeal body, ClaimsPrincipal user, DealWork work, Workspace workspace) =>
        work.Do(
            id,
            user,
            "deal",
            async (db, deal) =>
            {
                if (body.Products is not { Count: <= DealTerms.MostProducts })
                    return (null, ApiProblems.Invalid("too-many", $"At most {DealTerms.MostProducts} products.", "products"));
                if (DealTerms.OddProduct(body.Products, workspace) is { } odd)
                    return (null, odd);
                await db.Set<DealProductRow>().Where(x => x.DealId == deal.Id).ExecuteDeleteAsync();
                await db.Run(DealTerms.Put(deal.Id, body.Products));
                var total = body.Products.Sum(p => p.Quantity * p.Price);
                var words =
                    body.Products.Count == 0
                        ? "No products now"
                        : $"Products: {string.Join(", ", body.Products.Select(p => $"{p.Quantity:0.##} {workspace.Products.First(k => k.Key == p.Product).Name}"))}";
                if (body.AmountFollows && total != deal.Amount)
                {
                    words += $"; amount follows, {total:0.##} {deal.Currency}";
                    deal.Amount = total;
                }
                return (words, null);
            }
        );

    private static Task<Results<Ok<DealSheet>, ProblemHttpResult>> Competitors(Guid id, CompetitorsOnDeal body, ClaimsPrincipal user, DealWork work, Workspace workspace) =>
        work.Do(
            id,
            user,
            "deal",
            async (db, deal) =>
            {
                var known = workspace.List(PickList.Competitors).ToDictionary(c => c.Key, c => c.Label);
                if (
                    body.Competitors is not { Count: <= MostCompetitors }
                    || body.Competitors.Any(r => !known.ContainsKey(r.Competitor) || (r.Note ?? "").Length > 500)
                    || body.Competitors.DistinctBy(r => r.Competitor).Count() < body.Competitors.Count
                )
                    return (null, ApiProblems.Invalid("competitor-unknown", "Choose competitors of the list, each once, with at most 500 letters about them.", "competitors"));
                var competitors = body.Competitors.Select(r => r.Competitor).ToArray();
                var notes = body.Competitors.Select(r => FieldReader.Clean(r.Note ?? "")).ToArray();
                await db.Run(
                    $"delete from deal_competitor where deal_id = {deal.Id}; insert into deal_competitor (deal_id, competitor, note) select {deal.Id}, x.competitor, x.note from unnest({competitors}, {notes}) x(competitor, note)"
                );
                return (body.Competitors.Count == 0 ? "No competitors known now" : $"Competitors: {string.Join(", ", body.Competitors.Select(r => known[r.Competitor]))}", null);
            }
        );

    private static Task<Results<Ok<DealSheet>, ProblemHttpResult>> Plan(Guid id, TaskWrite body, ClaimsPrincipal user, DealWork work) =>
        work.Do(
            id,
            user,
            "deal",
            async (db, deal) =>
            {
                if (await TaskEndpoints.Wrong(db, body, user, work.Clock) is { } wrong)
                    return (null, wrong);
                await db.Insert(
                    new TaskRow
                    {
                        Id = Guid.CreateVersion7(),
                        DealId = deal.Id,
                        ContactId = deal.ContactId,
                        OwnerId = body.Owner ?? user.Id(),
                        Subject = body.Subject.Trim(),
                        DueAt = body.DueAt.ToUniversalTime(),
                        Repeat = body.Repeat,
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
                        ? (null, ApiProblems.Invalid("text-missing", $"Write up to {LongestNote:N0} letters, as a note or a call.", "text"))
                        : (body.Text!.Trim(), null)
                )
        );

    private sealed record NamedOwned(string Name, Guid? OwnerId);
}
