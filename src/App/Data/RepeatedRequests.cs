using System.Security.Cryptography;
using System.Text;
using DapperLantern.App.Setup;
using Microsoft.AspNetCore.DataProtection;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Data;

/// <summary>A write of a signed-in person that named a key: its answer is kept for a day, so that the same again is answered and not done again.</summary>
public sealed class RequestKeyRow
{
    /// <summary>SHA-256 of the person and the key.</summary>
    public byte[] Key { get; set; } = [];

    /// <summary>SHA-256 of method, path and body: another request with the same key is refused.</summary>
    public byte[] Request { get; set; } = [];
    public DateTime At { get; set; }

    /// <summary>Null while it is being done.</summary>
    public int? Status { get; set; }
    public string? Type { get; set; }

    /// <summary>Sealed where it is shown once; see <see cref="RepeatedRequests.AnswersOnce"/>.</summary>
    public byte[]? Body { get; set; }
}

/// <summary>Answers a repeated write (header <c>Idempotency-Key</c>) with what the first was answered: a double press, or a browser that sends again after a lost answer, does nothing twice.</summary>
public static class RepeatedRequests
{
    private const string Header = "Idempotency-Key";
    private const int LongestKey = 200;
    private const int LargestAnswer = 2 << 20;

    // One that was begun so long ago and not answered was cut off; it may be done again.
    private static readonly TimeSpan CutOff = TimeSpan.FromSeconds(60);

    /// <summary>How long an answer is kept.</summary>
    public static readonly TimeSpan Kept = TimeSpan.FromDays(1);

    /// <summary>Must stand behind sign-in.</summary>
    public static void UseRepeatedRequests(this WebApplication app) =>
        app.Use(
            async (http, next) =>
            {
                if (!Concerns(http))
                {
                    await next(http);
                    return;
                }
                var key = http.Request.Headers[Header].ToString();
                if (key.Length > LongestKey)
                    await ApiProblems.Of("key-too-long", "", Header, LongestKey).ExecuteAsync(http);
                else
                    await Once(http, next, SHA256.HashData(Encoding.UTF8.GetBytes($"{http.User.Id()}:{key}")), await HashOf(http));
            }
        );

    /// <summary>Says that the answer holds what is shown once (an address that opens once, a token, codes), so that it is kept sealed.</summary>
    public static TBuilder AnswersOnce<TBuilder>(this TBuilder builder)
        where TBuilder : IEndpointConventionBuilder => builder.WithMetadata(new ShownOnce());

    private sealed class ShownOnce;

    private static bool Concerns(HttpContext http) =>
        http.Request.Headers.ContainsKey(Header)
        && http.Request.Path.StartsWithSegments("/api")
        && !HttpMethods.IsGet(http.Request.Method)
        && http.User.Session() is not null
        && http.Request.ContentType?.StartsWith("multipart/", StringComparison.OrdinalIgnoreCase) != true;

    // Under a key: a short body could be guessed from its hash, also after somebody is erased.
    private static async Task<byte[]> HashOf(HttpContext http)
    {
        var request = http.Request;
        request.EnableBuffering();
        using var hash = IncrementalHash.CreateHMAC(HashAlgorithmName.SHA256, http.RequestServices.GetRequiredService<Secrets>().For("repeated-requests"));
        hash.AppendData(Encoding.UTF8.GetBytes($"{request.Method} {request.Path}{request.QueryString} {request.Headers.IfMatch}\n"));
        var buffer = new byte[1 << 14];
        for (int read; (read = await request.Body.ReadAsync(buffer)) > 0; )
            hash.AppendData(buffer, 0, read);
        request.Body.Position = 0;
        return hash.GetHashAndReset();
    }

    private static async Task Once(HttpContext http, RequestDelegate next, byte[] key, byte[] request)
    {
        var (databases, clock) = (http.RequestServices.GetRequiredService<LanternDbFactory>(), http.RequestServices.GetRequiredService<TimeProvider>());
        for (; ; await Task.Delay(50, http.RequestAborted))
        {
            var before = await Claim(databases, key, request, clock.UtcNow());
            if (before is null)
                break;
            if (!before.Request.AsSpan().SequenceEqual(request))
            {
                await ApiProblems.Of("key-used").ExecuteAsync(http);
                return;
            }
            if (before.Status is null)
                continue;
            http.Response.StatusCode = before.Status.Value;
            http.Response.ContentType = before.Type;
            http.Response.Headers["Idempotency-Replayed"] = "true";
            if (before.Body is { Length: > 0 } body)
                await http.Response.Body.WriteAsync(IsSealed(http) ? Seal(http).Unprotect(body) : body);
            return;
        }
        await Do(http, next, databases, key);
    }

    private static bool IsSealed(HttpContext http) => http.GetEndpoint()?.Metadata.GetMetadata<ShownOnce>() is not null;

    private static IDataProtector Seal(HttpContext http) => http.RequestServices.GetRequiredService<IDataProtectionProvider>().CreateProtector("answers");

    // What is not sealed is found where a person is erased.
    private static byte[] KeptOf(HttpContext http, MemoryStream copy) => copy.Length > 0 && IsSealed(http) ? Seal(http).Protect(copy.ToArray()) : copy.ToArray();

    // Null when the caller is the first, or the first was cut off; else what is known of the first.
    private static async Task<RequestKeyRow?> Claim(LanternDbFactory databases, byte[] key, byte[] request, DateTime now)
    {
        await using var db = await databases.Open();
        var (cutOff, old) = (now - CutOff, now - Kept);
        var claimed = await db.Run(
            $"""
            insert into request_key as k (key, request, at) values ({key}, {request}, {now})
            on conflict (key) do update set at = {now}, request = {request}, status = null, type = null, body = null
              where (k.status is null and k.at < {cutOff}) or k.at < {old}
            """
        );
        return claimed == 1 ? null : await db.Set<RequestKeyRow>().AsNoTracking().Where(x => x.Key == key).SingleOrDefaultAsync();
    }

    private static async Task Do(HttpContext http, RequestDelegate next, LanternDbFactory databases, byte[] key)
    {
        var answer = http.Response.Body;
        using var copy = new MemoryStream();
        http.Response.Body = copy;
        var done = false;
        try
        {
            await next(http);
            done = http.Response.StatusCode < 500;
        }
        finally
        {
            http.Response.Body = answer;
            await Save(databases, key, done && copy.Length <= LargestAnswer ? http.Response : null, KeptOf(http, copy));
        }
        copy.Position = 0;
        await copy.CopyToAsync(answer, http.RequestAborted);
    }

    // What failed by our fault may be tried again.
    private static async Task Save(LanternDbFactory databases, byte[] key, HttpResponse? answer, byte[] body)
    {
        await using var db = await databases.Open();
        if (answer is null)
            await db.Set<RequestKeyRow>().Where(x => x.Key == key).ExecuteDeleteAsync();
        else
            await db.Set<RequestKeyRow>()
                .Where(x => x.Key == key)
                .ExecuteUpdateAsync(s => s.SetProperty(x => x.Status, answer.StatusCode).SetProperty(x => x.Type, answer.ContentType).SetProperty(x => x.Body, body));
    }
}
