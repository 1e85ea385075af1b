using System.Security.Claims;
using DapperLantern.App.Data;
using DapperLantern.App.Events;
using DapperLantern.App.Leads;
using DapperLantern.App.Leads.Activities;
using DapperLantern.App.Setup;
using DapperLantern.Core.Events;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Rights;
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

    private static (Happening?, Problem?) NoRole(string role) => (null, Problem.Of("deal-role-unknown", "role", role));

    private static Task<Results<Ok<DealSheet>, ProblemHttpResult>> Join(Guid id, PersonOnDeal body, ClaimsPrincipal user, DealWork work, Workspace workspace) =>
        work.Do(
                id,
                user,
                async (db, deal) =>
                {
                    if (Role(workspace, body.Role ?? "") is not { } role)
                        return NoRole(body.Role!);
                    if (await db.Row<NamedOwned>($"select name, owner_id from contact where id = {body.ContactId} for share") is not var (name, owner))
                        return (null, Problem.Of("contact-unknown", "contactId"));
                    // Whoever is on a deal can be written to from it, so a contact of somebody else is put there by somebody who may.
                    if (user.WorksOwnOnly() && owner is { } other && other != user.Id())
                        return (null, Problem.Of("contact-not-yours", "", name));
                    var made = await db.Run(
                        $"""
                        insert into deal_person (id, deal_id, contact_id, role, at) select gen_random_uuid(), {deal.Id}, {body.ContactId}, {role.Key}, {work.Now}
                        where not exists (select 1 from deal_person where deal_id = {deal.Id} and contact_id = {body.ContactId} and role = {role.Key})
                        """
                    );
                    return (made == 0 ? null : new DealPeopleChanged(body.ContactId, "joined", role.Key, name), null);
                }
            )
            .Answer();

    private static Task<Results<Ok<DealSheet>, ProblemHttpResult>> Recast(Guid id, Guid person, PersonOnDeal body, ClaimsPrincipal user, DealWork work, Workspace workspace) =>
        work.Do(
                id,
                user,
                async (db, deal) =>
                {
                    if (Role(workspace, body.Role ?? "") is not { } role)
                        return NoRole(body.Role!);
                    var found = await db.Row<NamedContact>(
                        $"with p as (update deal_person set role = {role.Key} where deal_id = {deal.Id} and id = {person} returning contact_id) select c.id, c.name from contact c join p on p.contact_id = c.id"
                    );
                    return found is null ? (null, Problem.NotFound("person on the deal")) : (new DealPeopleChanged(found.Id, "role", role.Key, found.Name), null);
                }
            )
            .Answer();

    private static Task<Results<Ok<DealSheet>, ProblemHttpResult>> Leave(Guid id, Guid person, ClaimsPrincipal user, DealWork work) =>
        work.Do(
                id,
                user,
                async (db, deal) =>
                {
                    var found = await db.Row<NamedContact>(
                        $"with p as (delete from deal_person where deal_id = {deal.Id} and id = {person} returning contact_id) select c.id, c.name from contact c join p on p.contact_id = c.id"
                    );
                    return found is null ? (null, Problem.NotFound("person on the deal")) : (new DealPeopleChanged(found.Id, "left", Name: found.Name), null);
                }
            )
            .Answer();

    private static Task<Results<Ok<DealSheet>, ProblemHttpResult>> Products(Guid id, ProductsOnDeal body, ClaimsPrincipal user, DealWork work, Workspace workspace) =>
        work.Do(
                id,
                user,
                async (db, deal) =>
                {
                    if (DealTerms.OddProduct(body.Products, workspace) is { } odd)
                        return (null, odd);
                    await db.Set<DealProductRow>().Where(x => x.DealId == deal.Id).ExecuteDeleteAsync();
                    await db.Run(DealTerms.Put(deal.Id, body.Products));
                    var total = body.Products.Sum(p => p.Quantity * p.Price);
                    if (body.AmountFollows)
                    {
                        deal.Amount = total;
                        await db.Run(EventLog.Because(new Why(Why.Products)));
                    }
                    return (new DealProductsChanged([.. body.Products.Select(p => new DealProduct(p.Product, p.Quantity, p.Price))]), null);
                }
            )
            .Answer();

    private static Task<Results<Ok<DealSheet>, ProblemHttpResult>> Competitors(Guid id, CompetitorsOnDeal body, ClaimsPrincipal user, DealWork work, Workspace workspace) =>
        work.Do(
                id,
                user,
                async (db, deal) =>
                {
                    var known = workspace.List(PickList.Competitors).ToDictionary(c => c.Key, c => c.Label);
                    if (
                        body.Competitors is not { Count: <= MostCompetitors }
                        || body.Competitors.Any(r => !known.ContainsKey(r.Competitor) || (r.Note ?? "").Length > 500)
                        || body.Competitors.DistinctBy(r => r.Competitor).Count() < body.Competitors.Count
                    )
                        return (null, Problem.Of("competitors-unfit", "competitors"));
                    var competitors = body.Competitors.Select(r => r.Competitor).ToArray();
                    var notes = body.Competitors.Select(r => FieldReader.Clean(r.Note ?? "")).ToArray();
                    await db.Run(
                        $"delete from deal_competitor where deal_id = {deal.Id}; insert into deal_competitor (deal_id, competitor, note) select {deal.Id}, x.competitor, x.note from unnest({competitors}, {notes}) x(competitor, note)"
                    );
                    return (new DealCompetitorsChanged(competitors), null);
                }
            )
            .Answer();

    private static Task<Results<Ok<DealSheet>, ProblemHttpResult>> Plan(Guid id, TaskWrite body, ClaimsPrincipal user, DealWork work) =>
        work.Do(
                id,
                user,
                async (db, deal) =>
                {
                    if (await TaskEndpoints.Wrong(db, body, user, work.Clock) is { } wrong)
                        return (null, wrong);
                    var task = Guid.CreateVersion7();
                    await db.Insert(
                        new TaskRow
                        {
                            Id = task,
                            DealId = deal.Id,
                            ContactId = deal.ContactId,
                            OwnerId = body.Owner ?? user.Id(),
                            Subject = body.Subject.Trim(),
                            DueAt = body.DueAt.ToUniversalTime(),
                            Repeat = body.Repeat,
                        }
                    );
                    return (new TaskPlanned(task, body.DueAt.ToUniversalTime(), body.Owner ?? user.Id(), body.Subject.Trim()), null);
                }
            )
            .Answer();

    private static Task<Results<Ok<DealSheet>, ProblemHttpResult>> Touch(Guid id, DealTouch body, ClaimsPrincipal user, DealWork work) =>
        work.Do(
                id,
                user,
                async (db, deal) =>
                    body.Kind is not ("note" or "call") || (body.Text ?? "").Trim() is not { Length: > 0 and <= LongestNote } text
                        ? (null, Problem.Of("touch-unfit", "text", LongestNote))
                        : (new Noted(await DealEditor.AppendActivity(db, deal, body.Kind, text, user.Id(), work.Now), body.Kind), null)
            )
            .Answer();

    private sealed record NamedOwned(string Name, Guid? OwnerId);

    private sealed record NamedContact(Guid Id, string Name);
}
