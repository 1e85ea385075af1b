namespace DapperLantern.Core.Fields;

/// <summary>Which part of a date such as 03.04.2026 comes first.</summary>
public enum DateOrder : byte
{
    DayFirst,
    MonthFirst,

    /// <summary>Told for each date by itself; one that does not tell cannot be read.</summary>
    Either,
}

/// <summary>What stands before the decimals. <see cref="Either"/>: told for each number by itself.</summary>
public enum DecimalMark : byte
{
    Either,
    Point,
    Comma,
}

/// <summary>What is known of how a column, or a row, writes its values.</summary>
/// <param name="Country">Two-letter code of the row's country, on which telephones and regions depend; null if unknown.</param>
/// <param name="Asks">True where somebody is there to be asked: a number that can be read in two ways is then a problem, not a guess.</param>
public readonly record struct Conventions(string? Country = null, DateOrder Dates = DateOrder.DayFirst, DecimalMark Decimals = DecimalMark.Either, bool Asks = false);
