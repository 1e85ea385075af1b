using System.Security.Claims;
using System.Text.RegularExpressions;
using Dapper;
using DapperLantern.App.Data;
using DapperLantern.App.Leads;
using DapperLantern.App.Setup;
using DapperLantern.Core.Fields;
using Microsoft.AspNetCore.Http.HttpResults;
using Npgsql;

namespace DapperLantern.App.Campaigns;

/// <summary>A tag of the vocabulary. <see cref="Uses"/>: leads that carry it, those merged into it included.</summary>
public sealed record TagView(string Key, string Name, string Group, string Colour, string? Owner, bool Retired, string? MergedInto, int Uses);

/// <summary>The vocabulary with its convention.</summary>
/// <param name="Pattern">What a name must be like, as a regular expression.</param>
/// <param name="Hint">The same for people.</param>
public sealed record TagsView(IReadOnlyList<TagView> Tags, IReadOnlyList<string> Groups, string Pattern, string Hint, IReadOnlyList<string> Colours);

public sealed record NewTag(string Name, string Group, string Colour);

/// <summary>What is null stays.</summary>
public sealed record TagChange(string? Name = null, string? Group = null, string? Colour = null, bool? Retired = null);

public sealed record TagMerge(string Into);

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
        var connection = await db.Connection();
        var tags = await connection.QueryAsync<TagView>(
            """
            select t.key, t.name, t.group_name as "group", t.colour, p.display_name as owner, t.retired, t.merged_into,
              (select count(distinct l.lead_id)::int from lead_tag l join tag m on m.key = l.tag_key where m.key = t.key or m.merged_into = t.key) as uses
            from tag t left join person p on p.id = t.owner_id order by t.group_name, t.name
            """
        );
        var convention = await Convention(connection);
        return TypedResults.Ok(new TagsView([.. tags], convention.Groups, convention.Pattern, convention.Hint, Colours));
    }

    private static async Task<TagConvention> Convention(NpgsqlConnection connection) => await SetupEntries.Read<TagConvention>(connection, "tag-convention") ?? TagConvention.Usual;

    private static async Task<Results<Created<string>, ProblemHttpResult>> Coin(NewTag body, ClaimsPrincipal user, LanternDb db)
    {
        var connection = await db.Connection();
        if (await Wrong(connection, body.Name, body.Group, body.Colour) is { } wrong)
            return wrong;
        var key = Folding.Heading(body.Name).Replace(' ', '-');
        var made = await connection.ExecuteAsync(
            "insert into tag (key, name, group_name, colour, owner_id, retired) values (@key, @Name, @Group, @Colour, @owner, false) on conflict (key) do nothing",
            new
            {
                key,
                body.Name,
                body.Group,
                body.Colour,
                owner = user.Id(),
            }
        );
        return made == 0
            ? ApiProblems.Conflict("tag-exists", $"There is a tag \u201c{body.Name}\u201d already; it may be retired.")
            : TypedResults.Created($"/api/tags/{Uri.EscapeDataString(key)}", key);
    }

    private static async Task<ProblemHttpResult?> Wrong(NpgsqlConnection connection, string? name, string? group, string? colour)
    {
        var convention = await Convention(connection);
        if (name is not null && (name.Length is 0 or > 40 || !Regex.IsMatch(name, convention.Pattern, RegexOptions.None, TimeSpan.FromMilliseconds(100))))
            return ApiProblems.Invalid("tag-name", $"Tags are named by a convention: {convention.Hint}.", "name");
        if (group is not null && !convention.Groups.Contains(group))
            return ApiProblems.Invalid("tag-group", $"Choose one of the groups: {string.Join(", ", convention.Groups)}.", "group");
        return colour is not null && !Colours.Contains(colour) ? ApiProblems.Invalid("tag-colour", "Choose a colour of the palette.", "colour") : null;
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> Change(string key, TagChange body, LanternDb db)
    {
        var connection = await db.Connection();
        if (await Wrong(connection, body.Name, body.Group, body.Colour) is { } wrong)
            return wrong;
        return
            await connection.ExecuteAsync(
                "update tag set name = coalesce(@Name, name), group_name = coalesce(@Group, group_name), colour = coalesce(@Colour, colour), retired = coalesce(@Retired, retired) where key = @key",
                new
                {
                    key,
                    body.Name,
                    body.Group,
                    body.Colour,
                    body.Retired,
                }
            ) == 0
            ? ApiProblems.NotFound("tag")
            : TypedResults.NoContent();
    }

    // Tags merged into this one follow it, so that a merged tag always points to one that is not.
    private static async Task<Results<NoContent, ProblemHttpResult>> Merge(string key, TagMerge body, LanternDb db)
    {
        await using var transaction = await db.Database.BeginTransactionAsync();
        var connection = await db.Connection();
        var into = await connection.QuerySingleOrDefaultAsync<string>(
            "select key from tag where key = @Into and merged_into is null and key <> @key for update",
            new { body.Into, key }
        );
        if (into is null)
            return ApiProblems.Invalid("tag-unknown", "Choose another tag that is not merged itself.", "into");
        if (await connection.ExecuteAsync("update tag set merged_into = @into where key = @key or merged_into = @key", new { key, into }) == 0)
            return ApiProblems.NotFound("tag");
        await transaction.CommitAsync();
        return TypedResults.NoContent();
    }

    private static async Task<Results<NoContent, ProblemHttpResult>> Unmerge(string key, LanternDb db) =>
        await (await db.Connection()).ExecuteAsync("update tag set merged_into = null where key = @key and merged_into is not null", new { key }) == 0
            ? ApiProblems.Conflict("not-merged", "This tag is not merged.")
            : TypedResults.NoContent();

    private static Task<Results<NoContent, ProblemHttpResult>> Put(Guid id, string key, ClaimsPrincipal user, LanternDb db, TimeProvider clock) =>
        OnLead(
            id,
            key,
            user,
            db,
            clock,
            "insert into lead_tag (lead_id, tag_key) select @id, coalesce(merged_into, key) from tag where key = @key and not retired on conflict do nothing",
            "Tagged"
        );

    private static Task<Results<NoContent, ProblemHttpResult>> Remove(Guid id, string key, ClaimsPrincipal user, LanternDb db, TimeProvider clock) =>
        OnLead(
            id,
            key,
            user,
            db,
            clock,
            "delete from lead_tag l using tag t where l.lead_id = @id and t.key = l.tag_key and (t.key = @key or t.merged_into = @key)",
            "Tag taken off:"
        );

    private static async Task<Results<NoContent, ProblemHttpResult>> OnLead(Guid id, string key, ClaimsPrincipal user, LanternDb db, TimeProvider clock, string sql, string words)
    {
        await using var transaction = await db.Database.BeginTransactionAsync();
        var connection = await db.Connection();
        if (await LeadEndpoints.WhyNot(connection, id, user, null) is { } no)
            return no;
        var name = await connection.QuerySingleOrDefaultAsync<string>("select name from tag where key = @key", new { key });
        if (name is null)
            return ApiProblems.NotFound("tag");
        if (await connection.ExecuteAsync(sql, new { id, key }) > 0)
            await LeadEndpoints.AppendActivity(connection, id, "edited", $"{words} {name}", user, clock.UtcNow());
        await transaction.CommitAsync();
        return TypedResults.NoContent();
    }
}
