using System.Security.Claims;
using DapperLantern.App.Data;
using DapperLantern.App.Setup;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Rights;
using Microsoft.AspNetCore.Http.HttpResults;

namespace DapperLantern.App.Fields;

/// <summary>What a written number can mean: one number, two where the mark leaves it open, none where it is no number. Of two the one with thousands comes first.</summary>
public sealed record NumberView(string Text, IReadOnlyList<decimal> Readings);

/// <summary>The one reading of numbers, for every box in which a person types one.</summary>
public static class NumberEndpoints
{
    private const int LongestNumber = 60;

    public static void MapNumbers(this IEndpointRouteBuilder api) =>
        api.MapGet("/numbers", Read).Requires(Act.SeeDesk).WithTags("Setup").WithSummary("What a written number can mean, by the form the person writes numbers in");

    private static Ok<NumberView> Read(string text, ClaimsPrincipal user)
    {
        var clean = FieldReader.Clean(text);
        return TypedResults.Ok(new NumberView(text, clean.Length > LongestNumber ? [] : NumberReader.Readings(clean, user.Decimals())));
    }
}
