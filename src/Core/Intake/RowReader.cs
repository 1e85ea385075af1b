using System.Collections.Immutable;
using DapperLantern.Core.Fields;

namespace DapperLantern.Core.Intake;

/// <summary>A row of a list after reading: its values, and what was wrong with it.</summary>
/// <param name="Unfit">Why it cannot be a lead; null when it can. Other problems only leave their field blank.</param>
public sealed record RowReading(RecordValues Values, ImmutableArray<Problem> Problems, Problem? Unfit);

/// <summary>Turns the cells of a row into catalogue values by the matching of the columns.</summary>
public sealed class RowReader
{
    private readonly FieldCatalogue _catalogue;
    private readonly int _columns;
    private readonly (int Index, FieldDefinition Field)[] _fields;
    private readonly int _fullName;
    private readonly int _country;

    /// <exception cref="KeyNotFoundException">A target is no field of the catalogue.</exception>
    public RowReader(FieldCatalogue catalogue, IReadOnlyList<ColumnMatch> matching)
    {
        _catalogue = catalogue;
        _columns = matching.Count;
        _fields = [.. matching.Where(m => m.Target is not null and not ColumnMatcher.FullName).Select(m => (m.Index, catalogue[m.Target!]))];
        _fullName = matching.FirstOrDefault(m => m.Target == ColumnMatcher.FullName)?.Index ?? -1;
        _country = matching.FirstOrDefault(m => m.Target == "country")?.Index ?? -1;
    }

    public RowReading Read(IReadOnlyList<string> cells)
    {
        var values = new RecordValues(_catalogue);
        var problems = ImmutableArray.CreateBuilder<Problem>();
        if (cells.Count > _columns)
            return new RowReading(values, [], new Problem("row-unreadable", "", $"{cells.Count} cells instead of {_columns}"));

        SplitFullName(values, Cell(cells, _fullName));
        var country = _country < 0 ? null : Countries.Find(Cell(cells, _country).Trim());
        foreach (var (index, field) in _fields)
        {
            var read = FieldReader.Read(field, Cell(cells, index), country);
            if (read.Problem is { } problem)
                problems.Add(problem);
            else if (read.Value.IsKnown)
                values[field.Key] = read.Value;
        }
        return new RowReading(values, problems.ToImmutable(), WhyUnfit(values));
    }

    /// <summary>Why these values cannot be a lead: it takes a name or a company, and one way to reach them. Null when they can.</summary>
    public static Problem? WhyUnfit(RecordValues values)
    {
        if (!values["email"].IsKnown && !values["phone"].IsKnown)
            return new Problem("no-way-to-reach", "");
        if (!values["first_name"].IsKnown && !values["last_name"].IsKnown && !values["company"].IsKnown)
            return new Problem("no-name", "");
        return null;
    }

    // "Vik, Tor" and "Tor Vik" are the same person; one word alone is a last name.
    private void SplitFullName(RecordValues values, string written)
    {
        var name = FieldReader.Read(_catalogue["last_name"], written).Value.Text;
        if (name is null)
            return;
        var comma = name.IndexOf(", ", StringComparison.Ordinal);
        var ordered = comma > 0 ? $"{name[(comma + 2)..]} {name[..comma]}" : name;
        var cut = ordered.IndexOf(' ', StringComparison.Ordinal);
        values["first_name"] = FieldValue.Of(cut < 0 ? null : ordered[..cut]);
        values["last_name"] = FieldValue.Of(cut < 0 ? ordered : ordered[(cut + 1)..]);
    }

    private static string Cell(IReadOnlyList<string> cells, int index) => index >= 0 && index < cells.Count ? cells[index] : "";
}
