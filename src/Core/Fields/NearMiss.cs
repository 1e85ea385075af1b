namespace DapperLantern.Core.Fields;

/// <summary>A value that was probably meant. <see cref="Stored"/> is what the field would hold, <see cref="Label"/> what people read.</summary>
public sealed record Proposal(string Stored, string Label);

/// <summary>Proposes what was probably meant by a value that could not be read.</summary>
public static class NearMiss
{
    private const int Most = 3;

    /// <summary>At most three proposals, the nearest first; none when nothing is near.</summary>
    public static IEnumerable<Proposal> For(FieldDefinition field, string written, string? country = null) =>
        field.Type switch
        {
            FieldType.Country => Country(written),
            FieldType.Phone => PhoneReader.Proposals(written, country).Take(Most).Select(n => new Proposal(n, PhoneReader.Show(n))),
            FieldType.Region when country is not null => Nearest(written, Regions.Of(country).Select(r => (r.Code, r.Name, (IEnumerable<string>)[r.Name]))),
            FieldType.Choice or FieldType.YesNo => Nearest(written, field.Choices.Select(c => (c.Key, c.Label, c.AlsoCalled.Prepend(c.Label)))),
            FieldType.Email => Mail(field, written),
            FieldType.Number or FieldType.Money => Numbers(written),
            _ => [],
        };

    private static IEnumerable<Proposal> Nearest(string written, IEnumerable<(string Key, string Label, IEnumerable<string> Names)> known)
    {
        var folded = Folding.Heading(written);
        if (folded.Length is < 3 or > 60)
            return [];
        return known
            .Select(k => (k.Key, k.Label, Away: k.Names.Min(n => Away(folded, Folding.Heading(n)))))
            .Where(k => k.Away <= Math.Max(1, folded.Length / 3))
            .OrderBy(k => k.Away)
            .ThenBy(k => k.Label, StringComparer.Ordinal)
            .Take(Most)
            .Select(k => new Proposal(k.Key, k.Label));
    }

    // A name that holds the other whole is near: "aquaculture, trout" and "aquaculture".
    private static int Away(string written, string name) =>
        name.Length >= 4 && (written.Contains(name, StringComparison.Ordinal) || (written.Length >= 4 && name.Contains(written, StringComparison.Ordinal)))
            ? 1
            : TypingDistance.Within(written, name, Math.Max(written.Length, name.Length));

    private static IEnumerable<Proposal> Numbers(string written) =>
        NumberReader.Readings(written, DecimalMark.Either) is { Length: > 1 } both ? both.Select(n => FieldValue.Of(n).ToString()).Select(n => new Proposal(n, n)) : [];

    // A country's name with words around it, or with slips.
    private static IEnumerable<Proposal> Country(string written)
    {
        var folded = Folding.Heading(written);
        if (folded.Length is < 3 or > 60)
            return [];
        var words = folded.Split(' ');
        var within = words.Length > 1 ? words.Where(w => w.Length >= 4).Select(Countries.Find).OfType<string>() : [];
        return Countries.Near(written, Math.Max(1, folded.Length / 4)).Concat(within).Distinct().Take(Most).Select(c => new Proposal(c, Countries.NameOf(c)!));
    }

    private static IEnumerable<Proposal> Mail(FieldDefinition field, string written)
    {
        string[] tries =
        [
            written.Replace(',', '.').Replace(';', '.'),
            written
                .Replace(" at ", "@", StringComparison.OrdinalIgnoreCase)
                .Replace("(at)", "@", StringComparison.OrdinalIgnoreCase)
                .Replace("[at]", "@", StringComparison.OrdinalIgnoreCase),
            written.Replace("@@", "@", StringComparison.Ordinal).Replace("..", ".", StringComparison.Ordinal),
            written.Replace(" @", "@", StringComparison.Ordinal).Replace("@ ", "@", StringComparison.Ordinal),
            written.Replace(" ", "", StringComparison.Ordinal),
            written.Trim('.').Replace(".@", "@", StringComparison.Ordinal).Replace("@.", "@", StringComparison.Ordinal),
            .. EmailReader.Addresses(written),
        ];
        return tries.Select(t => FieldReader.Read(field, t).Value.Text).OfType<string>().Distinct().Take(Most).Select(t => new Proposal(t, t));
    }
}
