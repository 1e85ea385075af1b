using System.Collections.Immutable;
using DapperLantern.Core.Fields;

namespace DapperLantern.Core.Intake;

/// <summary>A row of a list after reading: its values, and what was wrong with it.</summary>
/// <param name="Unfit">Why it cannot be a lead; null when it can. Other problems only leave their field blank.</param>
public sealed record RowReading(RecordValues Values, ImmutableArray<Problem> Problems, Problem? Unfit);

/// <summary>Turns the cells of a row into catalogue values by the matching of the columns. Safe to share between threads.</summary>
public sealed class RowReader
{
    private readonly FieldCatalogue _catalogue;
    private readonly SiftPlan _plan;
    private readonly Mends _mends;
    private readonly (FieldDefinition Field, ColumnMatch[] Columns)[] _fields;
    private readonly (Composite Composite, int Index)[] _composites;
    private readonly ReadMemory[] _read;
    private readonly int _country;
    private readonly int _region;
    private readonly int _city;
    private readonly int _postalCode;
    private readonly int _mobile;
    private readonly bool _hasMobile;
    private readonly string[] _headings;

    /// <exception cref="KeyNotFoundException">A target is no field of the catalogue.</exception>
    public RowReader(FieldCatalogue catalogue, SiftPlan plan, Mends? mends = null)
    {
        (_catalogue, _plan, _mends) = (catalogue, plan, mends ?? Mends.None);
        var targeted = plan.Columns.Where(m => m.Target is not null).ToList();
        _read = [.. catalogue.Fields.Select(f => new ReadMemory(f))];
        _composites = [.. targeted.Where(m => Composites.Find(m.Target!) is not null).Select(m => (Composites.Find(m.Target!)!, m.Index))];
        var byField = targeted.Where(m => Composites.Find(m.Target!) is null).ToLookup(m => catalogue[m.Target!].Ordinal);
        // The country comes first: telephones and regions are read by it.
        _country = catalogue["country"].Ordinal;
        (_region, _city, _postalCode) = (catalogue["region"].Ordinal, catalogue["city"].Ordinal, catalogue["postal_code"].Ordinal);
        (_mobile, _hasMobile) = (catalogue["mobile"].Ordinal, targeted.Exists(m => m.Target == "mobile"));
        _headings = [.. plan.Columns.Select(c => Folding.Heading(c.Heading))];
        _fields = [.. byField.OrderBy(g => g.Key != _country).ThenBy(g => g.Key).Select(g => (catalogue.Fields[g.Key], g.ToArray()))];
    }

    /// <param name="row">The row's number, by which mends of one row are found.</param>
    public RowReading Read(IReadOnlyList<string> cells, int row = 0)
    {
        var values = new RecordValues(_catalogue);
        if (cells.Count > _plan.Columns.Length && HasText(cells, _plan.Columns.Length))
            return Broken($"{cells.Count} cells instead of {_plan.Columns.Length}", row);

        var problems = new RowProblems();
        foreach (var (field, columns) in _fields)
            if (columns.Length > 1 && field.Type is FieldType.Email or FieldType.Phone)
                PutFirst(values, field, columns, cells, row, problems);
            else
                Put(values, field, Gather(field, columns, cells), columns[0], row, problems);
        foreach (var (composite, index) in _composites)
            TakeApart(values, composite, Cell(cells, index), row, problems);
        PutMended(values, row, problems);
        foreach (var (field, read) in problems.Beside)
            Beside.FillBlank(values, field, read);
        AddPlace(values, problems);
        var unfit = WhyUnfit(values);
        return unfit is not null && RowLook.Of(cells, _headings) is { } other && _mends.FieldsOf(row).FirstOrDefault() is null
            ? new RowReading(values, [], other)
            : new RowReading(values, problems.All, unfit);
    }

    /// <summary>A row that could not be cut into cells; it holds what was mended for it.</summary>
    public RowReading Broken(string why, int row)
    {
        var values = new RecordValues(_catalogue);
        var problems = new RowProblems();
        PutMended(values, row, problems);
        var unfit = values.Known().Any() ? WhyUnfit(values) : new Problem("row-unreadable", "", why);
        return new RowReading(values, problems.All, unfit);
    }

    /// <summary>Why these values cannot be a lead: it takes a name or a company, and one way to reach them. Null when they can.</summary>
    public static Problem? WhyUnfit(RecordValues values)
    {
        if (!values["email"].IsKnown && !values["phone"].IsKnown && !values["mobile"].IsKnown)
            return new Problem("no-way-to-reach", "");
        if (!values["first_name"].IsKnown && !values["last_name"].IsKnown && !values["company"].IsKnown)
            return new Problem("no-name", "");
        return null;
    }

    private void Put(RecordValues values, FieldDefinition field, string written, ColumnMatch? column, int row, RowProblems problems)
    {
        var read = ReadOne(values, field, written, column, row, problems);
        if (read.Problem is { } problem)
            problems.Add(problem);
        else if (read.Value.IsKnown)
            values[field.Ordinal] = read.Value;
        problems.AddBeside(field, read);
        if (field.Ordinal == _country && !values[_country].IsKnown && read.Problem is null && _plan.Country is not null)
            values[_country] = FieldValue.Of(_plan.Country);
    }

    private ReadResult ReadOne(RecordValues values, FieldDefinition field, string written, ColumnMatch? column, int row, RowProblems problems)
    {
        // A row whose country cannot be read is not in the country that is said for rows that name none.
        var country = values[_country].Text ?? (problems.Has("country") ? null : _plan.Country);
        var conventions = new Conventions(country, column?.Dates ?? DateOrder.DayFirst, column?.Decimals ?? DecimalMark.Either);
        var put = _mends.Apply(row, field.Key, written);
        // What has no column has no conventions of its own.
        return column is null ? FieldReader.Read(field, put, conventions) : _read[field.Ordinal].Read(put, conventions);
    }

    // Of several addresses or telephones the first that is good is taken: a whole number before one that may lack digits. A second telephone
    // is the mobile where no column says one. The rest stays with the row.
    private void PutFirst(RecordValues values, FieldDefinition field, ColumnMatch[] columns, IReadOnlyList<string> cells, int row, RowProblems problems)
    {
        var read = columns.Select(c => ReadOne(values, field, Cell(cells, c.Index), c, row, problems)).ToList();
        var known = read.Where(r => r.Value.IsKnown).OrderBy(r => field.Type == FieldType.Phone && !PhoneReader.IsWhole(r.Value.Text)).DistinctBy(r => r.Value).ToList();
        if (known.Count == 0)
        {
            if (read.Find(r => r.Problem is not null).Problem is { } problem)
                problems.Add(problem);
            return;
        }
        values[field.Ordinal] = known[0].Value;
        problems.AddBeside(field, known[0]);
        if (field.Key == "phone" && known.Count > 1 && !_hasMobile)
            values[_mobile] = known[1].Value;
    }

    private static string Gather(FieldDefinition field, ColumnMatch[] columns, IReadOnlyList<string> cells) =>
        columns.Length == 1 ? Cell(cells, columns[0].Index) : GatherSeveral(field, columns, cells);

    private static string GatherSeveral(FieldDefinition field, ColumnMatch[] columns, IReadOnlyList<string> cells)
    {
        var parts = columns.Select(c => Cell(cells, c.Index).Trim()).Where(c => c.Length > 0).Distinct();
        return ColumnMatcher.MayGather(field) ? string.Join(", ", parts) : parts.FirstOrDefault() ?? "";
    }

    // A part never replaces what a column of its own has said.
    private void TakeApart(RecordValues values, Composite composite, string written, int row, RowProblems problems)
    {
        var clean = FieldReader.Clean(written);
        if (clean.Length == 0 || clean.Length > FieldReader.LongestText)
            return;
        foreach (var (key, part) in composite.TakeApart(clean, values[_country].Text ?? _plan.Country))
            if (_catalogue[key] is var field && !values[field.Ordinal].IsKnown)
                Put(values, field, part, null, row, problems);
    }

    // A row's own mend may fill a field that no column goes to.
    private void PutMended(RecordValues values, int row, RowProblems problems)
    {
        foreach (var key in _mends.FieldsOf(row))
            if (_catalogue.Find(key) is { } field && !values[field.Ordinal].IsKnown && !problems.Has(key))
                Put(values, field, "", null, row, problems);
    }

    // Where the postal code's place is known, it fills what the row leaves out.
    private void AddPlace(RecordValues values, RowProblems problems)
    {
        if (!values[_country].IsKnown && _plan.Country is not null && !problems.Has("country"))
            values[_country] = FieldValue.Of(_plan.Country);
        if (values[_postalCode].Text is not { } code || values[_country].Text is not ("US" or "CA") || (values[_city].IsKnown && values[_region].IsKnown))
            return;
        if (Places.Of(values[_country].Text!, code) is not { } place)
            return;
        if (!values[_city].IsKnown)
            values[_city] = FieldValue.Of(place.City);
        if (!values[_region].IsKnown)
            values[_region] = FieldValue.Of(place.Region);
    }

    private static bool HasText(IReadOnlyList<string> cells, int from)
    {
        for (var i = from; i < cells.Count; i++)
            if (!string.IsNullOrWhiteSpace(cells[i]))
                return true;
        return false;
    }

    private static string Cell(IReadOnlyList<string> cells, int index) => index >= 0 && index < cells.Count ? cells[index] : "";

    // What came up while a row was read.
    private sealed class RowProblems
    {
        private List<Problem>? _all;
        private List<(FieldDefinition, ReadResult)>? _beside;

        public ImmutableArray<Problem> All => _all is null ? [] : [.. _all];

        public IReadOnlyList<(FieldDefinition Field, ReadResult Read)> Beside => _beside ?? (IReadOnlyList<(FieldDefinition, ReadResult)>)[];

        public void AddBeside(FieldDefinition field, ReadResult read)
        {
            if (read.Beside is not null)
                (_beside ??= []).Add((field, read));
        }

        public void Add(Problem problem) => (_all ??= []).Add(problem);

        public bool Has(string field) => _all is not null && _all.Exists(p => p.Path == field);
    }
}
