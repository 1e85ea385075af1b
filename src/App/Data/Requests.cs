using System.Globalization;
using System.Security.Claims;
using DapperLantern.App.Setup;
using DapperLantern.App.Setup.SignIn;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Rights;
using Microsoft.EntityFrameworkCore;
using Npgsql;

namespace DapperLantern.App.Data;

/// <summary>Small questions every endpoint asks of a request or of the database.</summary>
public static class Requests
{
    public static Guid Id(this ClaimsPrincipal user) => Guid.Parse(user.FindFirstValue(ClaimTypes.NameIdentifier)!);

    /// <summary>What the person may by their roles, a missing second step left aside; nothing for a token, or nobody.</summary>
    public static UserRights Rights(this ClaimsPrincipal user) => user.Identities.OfType<SignedIn>().FirstOrDefault()?.Rights ?? UserRights.None;

    /// <summary>Keys of the person's roles.</summary>
    public static string[] Roles(this ClaimsPrincipal user) => [.. user.Rights().Roles.Select(r => r.Key)];

    /// <summary>True for somebody who works only the records they own.</summary>
    public static bool WorksOwnOnly(this ClaimsPrincipal user) => user.Rights().OwnOnly;

    /// <summary>The session a request comes in; null for a token, or nobody.</summary>
    public static Guid? Session(this ClaimsPrincipal user) => Guid.TryParse(user.FindFirstValue(Sessions.IdClaim), out var id) ? id : null;

    public const string ZoneClaim = "zone";

    /// <summary>Name of the person's time zone, in which their days begin.</summary>
    public static string Zone(this ClaimsPrincipal user) => user.FindFirstValue(ZoneClaim) ?? "UTC";

    public const string NumbersClaim = "numbers";

    /// <summary>The mark the person writes before decimals; <see cref="DecimalMark.Either"/> where they have not said.</summary>
    public static DecimalMark Decimals(this ClaimsPrincipal user) => Enum.TryParse<DecimalMark>(user.FindFirstValue(NumbersClaim), out var mark) ? mark : DecimalMark.Either;

    /// <summary>Held by whoever came in by the password alone, where the role asks for a second step.</summary>
    public const string WeakClaim = "weak";

    /// <summary>False, too, for somebody who is not signed in, or without the second step that their role asks for.</summary>
    public static bool May(this ClaimsPrincipal user, Act act) => (user.FindFirst(WeakClaim) is null || act == Act.KeepOwnSignIn) && user.Rights().May(act);

    /// <summary>The row version in <c>If-Match</c>, or null when the header is missing or not ours.</summary>
    public static int? Version(this HttpRequest request) =>
        int.TryParse(request.Headers.IfMatch.ToString().Trim('"'), NumberStyles.None, CultureInfo.InvariantCulture, out var version) ? version : null;

    /// <summary>The context's own connection, open; statements on it take part in the context's transaction.</summary>
    public static async Task<NpgsqlConnection> Connection(this LanternDb db)
    {
        // Asked for even when a transaction has it open: else it would be closed under us at the commit.
        await db.Database.OpenConnectionAsync();
        return (NpgsqlConnection)db.Database.GetDbConnection();
    }

    /// <summary>False where the server cut the connection, or it was never opened.</summary>
    public static bool IsConnected(this LanternDb db) => db.Database.GetDbConnection().State == System.Data.ConnectionState.Open;

    /// <summary>A command on the context's connection, for statements whose parameters are put together one by one.</summary>
    public static async Task<NpgsqlCommand> Command(this LanternDb db, string sql = "") => new(sql, await db.Connection());

    /// <summary>Answers by a status alone.</summary>
    public static Task Answer(this HttpContext http, int status)
    {
        http.Response.StatusCode = status;
        return Task.CompletedTask;
    }

    private const int LongestFileName = 200;

    /// <summary>
    /// The name of a file as it can be kept: some browsers send the whole path, and signs that no name has are left out. Of a name too long the beginning and the ending stay.
    /// </summary>
    public static string NameOr(this IFormFile file, string otherwise)
    {
        var given = file.FileName.Replace('\\', '/');
        var name = new string([.. given[(given.LastIndexOf('/') + 1)..].Where(c => !char.IsControl(c) && !char.IsSurrogate(c))]).Trim();
        return name.Length == 0 ? otherwise
            : name.Length <= LongestFileName ? name
            : name[..(LongestFileName - 10)] + name[^10..];
    }

    /// <summary>Requires the right to an act; every route group and endpoint but the public ones has one.</summary>
    public static TBuilder Requires<TBuilder>(this TBuilder builder, Act act)
        where TBuilder : IEndpointConventionBuilder => builder.RequireAuthorization(act.ToString());
}
