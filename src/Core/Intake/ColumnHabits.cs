using DapperLantern.Core.Fields;

namespace DapperLantern.Core.Intake;

/// <summary>Looks at every cell of a column to tell the order of its dates, or its decimal mark.</summary>
/// <param name="type">Of the field that the column fills; only dates, numbers and money have habits.</param>
public sealed class ColumnHabits(FieldType type)
{
    // One in so many says that the column is mixed; fewer are slips.
    private const int MixedFrom = 20;

    private int _dayFirst;
    private int _monthFirst;
    private int _undecided;
    private int _commas;
    private int _points;
    private string? _open;

    /// <summary>True for the types of fields that are written in more than one way.</summary>
    public static bool Has(FieldType type) => type is FieldType.Date or FieldType.Number or FieldType.Money;

    public void Add(string cell)
    {
        if (type == FieldType.Date)
            AddDate(cell);
        else
            AddNumber(cell);
    }

    private void AddDate(string cell)
    {
        var (order, needed) = DateReader.OrderOf(cell);
        _dayFirst += order == DateOrder.DayFirst ? 1 : 0;
        _monthFirst += order == DateOrder.MonthFirst ? 1 : 0;
        _undecided += order is null && needed ? 1 : 0;
    }

    private void AddNumber(string cell)
    {
        var mark = NumberReader.MarkOf(cell);
        _commas += mark == DecimalMark.Comma ? 1 : 0;
        _points += mark == DecimalMark.Point ? 1 : 0;
        if (_open is null && mark == DecimalMark.Either && NumberReader.Readings(cell, mark).Length > 1)
            _open = cell;
    }

    /// <summary>The match with what its column showed, unless a person said otherwise.</summary>
    /// <param name="country">Two-letter code of the list's country: decides what the column leaves open.</param>
    public ColumnMatch Settle(ColumnMatch match, string? country) =>
        match.Said || !Has(type) ? match
        : type == FieldType.Date ? Dates(match, country)
        : Decimals(match);

    private ColumnMatch Dates(ColumnMatch match, string? country)
    {
        var assumed = country is "US" ? DateOrder.MonthFirst : DateOrder.DayFirst;
        var order =
            Math.Min(_dayFirst, _monthFirst) * MixedFrom >= Math.Max(_dayFirst, _monthFirst) && _dayFirst > 0 ? DateOrder.Either
            : _dayFirst > _monthFirst ? DateOrder.DayFirst
            : _monthFirst > _dayFirst ? DateOrder.MonthFirst
            : assumed;
        var taken = order == DateOrder.DayFirst ? "the day" : "the month";
        var note =
            order == DateOrder.Either
                ? $"{_dayFirst} dates can only have the day first and {_monthFirst} only the month; each is read by itself, and {_undecided} that can be both are left to mend."
            : _dayFirst > 0 && _monthFirst > 0 ? $"{_dayFirst} dates can only have the day first and {_monthFirst} only the month; {taken} is taken as first."
            : _dayFirst + _monthFirst == 0 && _undecided > 0 ? $"Whether day or month comes first cannot be told from these dates; {taken} is taken as first."
            : null;
        return match with { Dates = order, Note = note };
    }

    private ColumnMatch Decimals(ColumnMatch match)
    {
        var mark =
            _commas > _points ? DecimalMark.Comma
            : _points > 0 ? DecimalMark.Point
            : DecimalMark.Either;
        var note =
            _commas > 0 && _points > 0 ? $"{_commas} numbers have a comma before the decimals and {_points} a point; a {(mark == DecimalMark.Comma ? "comma" : "point")} is taken."
            : mark == DecimalMark.Either && _open is not null ? $"Whether \u201c{_open}\u201d has thousands or decimals cannot be told from these numbers; thousands are taken."
            : null;
        return match with { Decimals = mark, Note = note };
    }
}
