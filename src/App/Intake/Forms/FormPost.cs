using System.Collections.Immutable;
using System.Globalization;
using System.Security.Cryptography;
using System.Text;
using System.Text.Json;
using DapperLantern.App.Data;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Intake.Forms;
using Microsoft.AspNetCore.DataProtection;

namespace DapperLantern.App.Intake.Forms;

/// <summary>A small sum that people answer and most machines do not.</summary>
public sealed record Sum(int A, int B);

/// <summary>What a form page carries, sealed: when it was opened, an id of its own, and the sum it asks.</summary>
public sealed record PageToken(DateTime OpenedAt, Guid Id, Sum Sum);

/// <summary>A form page as it is to be shown.</summary>
/// <param name="Posted">Answers already given, by name.</param>
public sealed record ShownForm(
    FormSheet Sheet,
    FieldCatalogue Catalogue,
    string Language,
    string Action,
    string Token,
    Sum? Sum,
    bool SumWrong,
    IReadOnlyDictionary<string, string> Posted,
    IReadOnlyDictionary<string, string> Labels,
    ImmutableArray<Problem> Problems
);

/// <summary>Seals and opens what form pages carry; any process of the workspace opens what another sealed.</summary>
public sealed class PageTokens(IDataProtectionProvider protection, TimeProvider clock)
{
    private readonly IDataProtector _protector = protection.CreateProtector("form-page");

    public (string Sealed, PageToken Token) Make()
    {
        var token = new PageToken(clock.UtcNow(), Guid.NewGuid(), new Sum(RandomNumberGenerator.GetInt32(2, 10), RandomNumberGenerator.GetInt32(2, 10)));
        return (_protector.Protect(Json.Write(token)), token);
    }

    /// <summary>Null for what is not ours, or was changed.</summary>
    public PageToken? Open(string? given)
    {
        if (string.IsNullOrEmpty(given))
            return null;
        try
        {
            return Json.Read<PageToken>(_protector.Unprotect(given));
        }
        catch (Exception e) when (e is CryptographicException or JsonException or FormatException)
        {
            return null;
        }
    }
}

/// <summary>A post as it came over HTTP: names and values, at most <see cref="MostBytes"/>.</summary>
public static class FormPost
{
    public const int MostBytes = 64 * 1024;
    public const int MostNames = 200;

    /// <summary>A field that people do not see.</summary>
    public const string Trap = "home_address_2";

    /// <summary>Reads a form or a JSON object. Several values of a name are joined with a comma; what is nested in JSON is kept as its text.</summary>
    /// <returns>Null with the HTTP status that says why not.</returns>
    public static async Task<(Dictionary<string, string>? Posted, int Status)> Read(HttpRequest request, CancellationToken cancel)
    {
        if (request.ContentLength > MostBytes)
            return (null, 413);
        try
        {
            var posted =
                request.HasJsonContentType() ? await ReadJson(request, cancel)
                : request.HasFormContentType ? (await request.ReadFormAsync(cancel)).ToDictionary(f => Safe(f.Key), f => Safe(string.Join(", ", (IEnumerable<string?>)f.Value)))
                : null;
            return (
                posted,
                posted is null ? 415
                : posted.Count > MostNames ? 413
                : 200
            );
        }
        catch (BadHttpRequestException e)
        {
            return (null, e.StatusCode);
        }
        catch (Exception e) when (e is InvalidDataException or JsonException or InvalidOperationException or IOException or ArgumentException)
        {
            return (null, 400);
        }
    }

    /// <summary>The same sender's key, or the same page's same answers, give the same id, by which a post sent twice is kept once.</summary>
    public static Guid KeyOf(string form, string sender, IEnumerable<KeyValuePair<string, string>> posted)
    {
        var text = new StringBuilder(form).Append('\n').Append(sender);
        foreach (var (name, value) in posted.Where(p => p.Key != "_t").OrderBy(p => p.Key, StringComparer.Ordinal))
            text.Append(CultureInfo.InvariantCulture, $"\n{name.Length}:{name}{value.Length}:{value}");
        return new Guid(SHA256.HashData(Encoding.UTF8.GetBytes(text.ToString())).AsSpan(0, 16));
    }

    private static async Task<Dictionary<string, string>?> ReadJson(HttpRequest request, CancellationToken cancel)
    {
        using var body = await JsonDocument.ParseAsync(request.Body, new JsonDocumentOptions { MaxDepth = 16 }, cancel);
        if (body.RootElement.ValueKind != JsonValueKind.Object)
            return null;
        var posted = new Dictionary<string, string>();
        foreach (var part in body.RootElement.EnumerateObject())
            posted[Safe(part.Name)] = Safe(
                part.Value.ValueKind switch
                {
                    JsonValueKind.String => part.Value.GetString()!,
                    JsonValueKind.Null => "",
                    JsonValueKind.True => "yes",
                    JsonValueKind.False => "no",
                    _ => part.Value.GetRawText(),
                }
            );
        return posted;
    }

    // PostgreSQL keeps no NUL, and half a surrogate pair is no text.
    private static string Safe(string text) => Encoding.UTF8.GetString(Encoding.UTF8.GetBytes(text.Replace('\0', '\ufffd')));
}
