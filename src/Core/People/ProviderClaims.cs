using System.Text.Json;

namespace DapperLantern.Core.People;

/// <summary>A value that an identity provider sends of a person, and its meaning here.</summary>
/// <param name="Value">As the provider writes it: a group, a role, a department.</param>
/// <param name="Roles">Keys of roles.</param>
/// <param name="Teams">Keys of teams.</param>
public sealed record ProviderMap(string Value, IReadOnlyList<string> Roles, IReadOnlyList<string> Teams);

/// <summary>The roles and teams that a person has by the values of the provider.</summary>
/// <param name="Roles">Keys, each once; none where no value means a role and there are no others.</param>
/// <param name="Teams">Keys, each once.</param>
public sealed record ProviderStanding(IReadOnlyList<string> Roles, IReadOnlyList<string> Teams);

/// <summary>Roles and teams out of the claims of an identity provider.</summary>
public static class ProviderClaims
{
    /// <summary>The roles and teams by the values: of each value that has a meaning, all of it. Values are compared letter by letter, without blanks around them.</summary>
    /// <param name="otherwise">Keys of the roles of a person whose values mean no role.</param>
    public static ProviderStanding Of(IReadOnlyList<ProviderMap> maps, IReadOnlyList<string> otherwise, IEnumerable<string> values)
    {
        var sent = values.Select(v => v.Trim()).ToHashSet(StringComparer.Ordinal);
        var meant = maps.Where(m => sent.Contains(m.Value.Trim())).ToList();
        string[] roles = [.. meant.SelectMany(m => m.Roles).Distinct()];
        return new ProviderStanding(roles.Length > 0 ? roles : [.. otherwise.Distinct()], [.. meant.SelectMany(m => m.Teams).Distinct()]);
    }

    /// <summary>
    /// The values of a claim: of each claim with its name; else, where the name has points, of the member of a claim that is a JSON object, so that <c>access.roles</c> finds the
    /// member roles of the claim access.
    /// </summary>
    /// <param name="claims">Names and values, one for each value of a list.</param>
    public static IReadOnlyList<string> Values(IReadOnlyList<(string Name, string Value)> claims, string claim)
    {
        string[] plain = [.. claims.Where(c => c.Name == claim).SelectMany(c => Listed(c.Value)).Distinct()];
        if (plain.Length > 0 || claim.IndexOf('.') is not (> 0 and var point))
            return plain;
        return [.. claims.Where(c => c.Name == claim[..point]).SelectMany(c => Member(c.Value, claim[(point + 1)..].Split('.'))).Distinct()];
    }

    // Some providers send a list as one text.
    private static IEnumerable<string> Listed(string value) => value.StartsWith('[') && Read(value) is { ValueKind: JsonValueKind.Array } list ? Texts(list) : [value];

    private static IEnumerable<string> Member(string json, string[] path)
    {
        var at = Read(json);
        foreach (var name in path)
            at = at is { ValueKind: JsonValueKind.Object } o && o.TryGetProperty(name, out var member) ? member : null;
        return at is { } found ? Texts(found) : [];
    }

    private static IEnumerable<string> Texts(JsonElement element) =>
        element.ValueKind == JsonValueKind.Array ? element.EnumerateArray().SelectMany(Texts)
        : element.ValueKind == JsonValueKind.String ? [element.GetString()!]
        : [];

    private static JsonElement? Read(string json)
    {
        try
        {
            using var document = JsonDocument.Parse(json);
            return document.RootElement.Clone();
        }
        catch (JsonException)
        {
            return null;
        }
    }

    /// <summary>The teams of a person: those by the provider, and of the teams they have, those that no value means.</summary>
    public static IReadOnlyList<string> Teams(IReadOnlyList<ProviderMap> maps, ProviderStanding standing, IEnumerable<string> now)
    {
        var meant = maps.SelectMany(m => m.Teams).ToHashSet(StringComparer.Ordinal);
        return [.. standing.Teams.Concat(now.Where(t => !meant.Contains(t))).Distinct()];
    }
}
