using DapperLantern.Core.Fields;

namespace DapperLantern.Core.Intake;

/// <summary>What people put right in an import's rows.</summary>
/// <param name="Row">The one row meant, or null: every row whose field holds <paramref name="Found"/>.</param>
/// <param name="Field">Catalogue key.</param>
/// <param name="Found">The value as it came; empty for one row's field, whatever stood there.</param>
/// <param name="Put">What is read instead; empty leaves the field blank and settles the problem.</param>
public sealed record Mend(int? Row, string Field, string Found, string Put);

/// <summary>The mends of an import, looked up while reading. A later mend of the same thing holds; one row's own holds over one for all alike.</summary>
public sealed class Mends
{
    private readonly Dictionary<(string Field, string Found), string> _alike = [];
    private readonly Dictionary<int, Dictionary<string, string>> _rows = [];

    public Mends(IEnumerable<Mend> mends)
    {
        foreach (var mend in mends)
            if (mend.Row is { } row)
                (_rows.TryGetValue(row, out var fields) ? fields : _rows[row] = [])[mend.Field] = mend.Put;
            else
                _alike[(mend.Field, mend.Found)] = mend.Put;
    }

    public static Mends None { get; } = new([]);

    /// <summary>What is to be read in place of <paramref name="written"/>.</summary>
    public string Apply(int row, string field, string written)
    {
        if (_rows.Count > 0 && _rows.TryGetValue(row, out var fields) && fields.TryGetValue(field, out var put))
            return put;
        return _alike.Count > 0 && _alike.TryGetValue((field, FieldReader.Clean(written)), out var alike) ? alike : written;
    }

    /// <summary>Fields mended for this one row, whether or not a column goes to them.</summary>
    public IEnumerable<string> FieldsOf(int row) => _rows.TryGetValue(row, out var fields) ? fields.Keys : [];
}
