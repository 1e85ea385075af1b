using System.Collections.Immutable;
using DapperLantern.Core.Fields;

namespace DapperLantern.Core.Intake;

/// <summary>Where a column of a list goes.</summary>
/// <param name="Index">Position in the file, from 0.</param>
/// <param name="Target">A catalogue key, a key of <see cref="Composites"/>, or null: not taken into the facts, but kept with the arrival.</param>
/// <param name="Confidence">0 to 100; how sure we are.</param>
/// <param name="Why">The reason, for people.</param>
/// <param name="Dates">Order of day and month; null until the whole column was looked at.</param>
/// <param name="Decimals">Decimal mark; null until the whole column was looked at.</param>
/// <param name="Note">What could not be told from the column and what was taken instead; null when nothing is in doubt.</param>
/// <param name="Said">True when a person chose the order or the mark.</param>
/// <param name="Proposed">A target that the values look like and the heading does not say: a person is asked; null for none.</param>
public sealed record ColumnMatch(
    int Index,
    string Heading,
    string? Target,
    int Confidence,
    string Why,
    ImmutableArray<string> Samples,
    DateOrder? Dates = null,
    DecimalMark? Decimals = null,
    string? Note = null,
    bool Said = false,
    string? Proposed = null
);

/// <summary>How an import's columns become facts.</summary>
/// <param name="Country">Two-letter code taken where a row names no country; null for none.</param>
/// <param name="AsideUnread">True to set a row aside for mending when any matched value cannot be read; false leaves that field blank.</param>
public sealed record SiftPlan(ImmutableArray<ColumnMatch> Columns, string? Country = null, bool AsideUnread = false);
