using System.Security.Claims;
using DapperLantern.App.Data;
using DapperLantern.App.Rights;
using DapperLantern.App.Setup;
using DapperLantern.Core.Rights;
using DapperLantern.Core.Search;
using Microsoft.AspNetCore.Http.HttpResults;

namespace DapperLantern.App.Search;

/// <summary>The one search box over HTTP.</summary>
public static class SearchEndpoints
{
    private const int LongestText = 200;

    public static void MapSearch(this IEndpointRouteBuilder api) =>
        api.MapGet("/search", Find)
            .Requires(Act.SeeLeads)
            .WithTags("Search")
            .WithSummary("Leads, contacts, accounts, deals and notes by words, numbers of leads or telephone numbers");

    private static async Task<Results<Ok<SearchView>, ProblemHttpResult>> Find(string text, ClaimsPrincipal user, LanternDb db, RecordScope scope, SearchQueries queries) =>
        text.Length > LongestText ? ApiProblems.Of("too-long", "text", LongestText) : TypedResults.Ok(await queries.Find(db, SearchAsk.Read(text), scope, user.May(Act.SeeDeals)));
}
