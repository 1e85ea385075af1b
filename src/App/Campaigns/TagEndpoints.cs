using System.Security.Claims;
using System.Text.RegularExpressions;
using DapperLantern.App.Data;
using DapperLantern.App.Events;
using DapperLantern.App.Leads;
using DapperLantern.App.Setup;
using DapperLantern.Core.Events;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Rights;
using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Campaigns;

/// <summary>A tag of the vocabulary. <see cref="Uses"/>: leads that carry it, those merged into it included.</summary>
public sealed record TagView(string Key, string Name, string Group, string Colour, string? Owner, bool Retired, string? MergedInto, int Uses);

/// <summary>The vocabulary with its convention.</summary>
/// <param name="Pattern">What a name must be like, as a regular expression.</param>
/// <param name="Hint">The same for people.</param>
public sealed record TagsView(IReadOnlyList<TagView> Tags, IReadOnlyList<string> Groups, string Pattern, string Hint, IReadOnlyList<string> Colours);

public sealed record NewTag([Text(100)] string Name, [Text(100)] string Group, [Text(100)] string Colour);

/// <summary>What is null stays.</summary>
public sealed record TagChange([Text(100)] string? Name = null, [Text(100)] string? Group = null, [Text(100)] string? Colour = null, bool? Retired = null);

public sealed record TagMerge([Text(100)] string Into);

/// <summary>How tags are named: groups, and a pattern for names. Kept in the setup under "tag-convention".</summary>
public sealed record TagConvention(IReadOnlyList<string> Groups, string Pattern, string Hint)
{
    public static TagConvention Usual { get; } = new(["Event", "Topic", "Care"], "^[a-z0-9]+(-[a-z0-9]+)*$", "small letters and digits, words joined by -, as tank-test");
}

/// <summary>
/// The vocabulary of tags: coined by those who may, merged, retired. A merged tag's leads keep it and are read as having the other, so that a
/// merge is undone by one word.
/// </summary>
public static class TagEndpoints
{
    /// <summary>Names of the palette a tag may have.</summary>
    private static readonly string[] Colours = ["slate", "lamp", "good", "bad", "ink"];

    public static void MapTags(this IEndpointRouteBuilder api)
    {
        api.MapGet("/tags", List).Requires(Act.SeeLeads).WithTags("Tags").WithSummary("The vocabulary");
        var coin = api.MapGroup("/tags").Requires(Act.CoinTags).WithTags("Tags").AddEndpointFilter(Told);
        coin.MapPost("", Coin).WithSummary("Coin a tag");
        coin.MapPatch("/{key}", Change).WithSummary("Rename, regroup, colour, retire or bring back");
        coin.MapPost("/{key}/merge", Merge).WithSummary("Let another tag stand for this one");
        coin.MapDelete("/{key}/merge", Unmerge).WithSummary("Undo a merge");
        var work = api.MapGroup("/leads/{id:guid}/tags/{key}").Requires(Act.WorkLeads).WithTags("Tags");
        work.MapPut("", Put).WithSummary("Tag a lead");
        work.MapDelete("", Remove).WithSummary("Take a tag off a lead");
    }

    // The catalogue names the tags that conditions may ask for, in every process.
    private static async ValueTask<object?> Told(EndpointFilterInvocationContext call, EndpointFilterDelegate next)
    {
        var answer = await next(call);
        await call.HttpContext.RequestServices.GetRequiredService<WorkspaceConfiguration>().Changed();
        return answer;
    }

    private static async Task<Ok<TagsView>> List(LanternDb db)
    {
        var tags = await (
            from t in db.Set<TagRow>()
            join p in db.Users on t.OwnerId equals p.Id into owners
            from p in owners.DefaultIfEmpty()
            orderby t.GroupName, t.Name
            select new TagView(
                t.Key,
                t.Name,
                t.GroupName,
                t.Colour,
                p.DisplayName,
                t.Retired,
                t.MergedInto,
                // A merged tag's leads count for the one that stands for it.
                db.Set<LeadTagRow>().Where(l => db.Set<TagRow>().Any(m => m.Key == l.TagKey && (m.Key == t.Key || m.MergedInto == t.Key))).Select(l => l.LeadId).Distinct().Count()
            )
        ).ToListAsync();
        var convention = await Convention(db);
        return TypedResults.Ok(new TagsView(tags, convention.Groups, convention.Pattern, convention.Hint, Colours));
    }

    private static async Task<TagConvention> Convention(LanternDb db) => await SetupEntries.Read<TagConvention>(db, "tag-convention") ?? TagConvention.Usual;

    private static async Task<Results<Created<string>, ProblemHttpResult>> Coin(NewTag body, ClaimsPrincipal user, LanternDb db)
    {
        if (await Wrong(db, body.Name, body.Group, body.Colour) is { } wrong)
            return ApiProblems.Of(wrong);
        var key = Folding.Heading(body.Name).Replace(' ', '-');
        var owner = user.Id();
        var made = await db.Run(
            $"insert into tag (key, name, group_name, colour, owner_id, retired) values ({key}, {body.Name}, {body.Group}, {body.Colour}, {owner}, false) on conflict (key) do nothing"
        );
        return made == 0 ? ApiProblems.Of("tag-exists", "", body.Name) : TypedResults.Created($"/api/tags/{Uri.EscapeDataString(key)}", key);
    }

    private static async Task<Problem?> Wrong(LanternDb db, string? name, string? group, string? colour)
    {
        var convention = await Convention(db);
        if (name is not null && (name.Length is 0 or > 40 || !Regex.IsMatch(name, convention.Pattern, RegexOptions.None, TimeSpan.FromMilliseconds(100))))
            return Problem.Of("tag-name", "name", new Whole(convention.Hint));
        if (group is not null && !convention.Groups.Contains(group))
            return Problem.Of("tag-group", "group", convention.Groups);
        return colour is not null && !Colours.Contains(colour) ? Problem.Of("tag-colour", "colour") : null;
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> Change(string key, TagChange body, LanternDb db)
    {
        if (await Wrong(db, body.Name, body.Group, body.Colour) is { } wrong)
            return ApiProblems.Of(wrong);
        var changed = await db.Set<TagRow>()
            .Where(t => t.Key == key)
            .ExecuteUpdateAsync(t =>
                t.SetProperty(x => x.Name, x => body.Name ?? x.Name)
                    .SetProperty(x => x.GroupName, x => body.Group ?? x.GroupName)
                    .SetProperty(x => x.Colour, x => body.Colour ?? x.Colour)
                    .SetProperty(x => x.Retired, x => body.Retired ?? x.Retired)
            );
        return changed == 0 ? ApiProblems.NotFound("tag") : TypedResults.NoContent();
    }

    // Tags merged into this one follow it, so that a merged tag always points to one that is not.
    private static async Task<Results<NoContent, ProblemHttpResult>> Merge(string key, TagMerge body, LanternDb db)
    {
        await using var transaction = await db.Database.BeginTransactionAsync();
        // Locked, so that the other cannot be merged itself meanwhile.
        if (await db.Row<string>($"""select key as "Value" from tag where key = {body.Into} and merged_into is null and key <> {key} for update""") is not { } into)
            return ApiProblems.Of("tag-target-unfit", "into");
        if (await db.Set<TagRow>().Where(t => t.Key == key || t.MergedInto == key).ExecuteUpdateAsync(t => t.SetProperty(x => x.MergedInto, into)) == 0)
            return ApiProblems.NotFound("tag");
        await transaction.CommitAsync();
        return TypedResults.NoContent();
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> Unmerge(string key, LanternDb db) =>
        await db.Set<TagRow>().Where(t => t.Key == key && t.MergedInto != null).ExecuteUpdateAsync(t => t.SetProperty(x => x.MergedInto, (string?)null)) == 0
            ? ApiProblems.Of("not-merged")
            : TypedResults.NoContent();

    private static Task<Results<NoContent, ProblemHttpResult>> Put(Guid id, string key, ClaimsPrincipal user, LanternDb db) =>
        OnLead(
            id,
            key,
            user,
            db,
            () => db.Run($"insert into lead_tag (lead_id, tag_key) select {id}, coalesce(merged_into, key) from tag where key = {key} and not retired on conflict do nothing"),
            on: true
        );

    private static Task<Results<NoContent, ProblemHttpResult>> Remove(Guid id, string key, ClaimsPrincipal user, LanternDb db) =>
        OnLead(
            id,
            key,
            user,
            db,
            () => db.Set<LeadTagRow>().Where(l => l.LeadId == id && db.Set<TagRow>().Any(t => t.Key == l.TagKey && (t.Key == key || t.MergedInto == key))).ExecuteDeleteAsync(),
            on: false
        );

    private static async Task<Results<NoContent, ProblemHttpResult>> OnLead(Guid id, string key, ClaimsPrincipal user, LanternDb db, Func<Task<int>> change, bool on)
    {
        await using var transaction = await db.Database.BeginTransactionAsync();
        if (await LeadEndpoints.WhyNot(db, id, user, null) is { } no)
            return ApiProblems.Of(no);
        var name = await db.Set<TagRow>().Where(t => t.Key == key).Select(t => t.Name).SingleOrDefaultAsync();
        if (name is null)
            return ApiProblems.NotFound("tag");
        if (await change() > 0)
            await db.Log(EventLog.Lead, id, new Tagged(key, name, on));
        await transaction.CommitAsync();
        return TypedResults.NoContent();
    }
}
