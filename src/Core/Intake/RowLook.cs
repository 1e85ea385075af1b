using System.Collections.Frozen;
using DapperLantern.Core.Fields;

namespace DapperLantern.Core.Intake;

/// <summary>Tells rows that stand in lists but name nobody: headings again, totals, remarks below.</summary>
public static class RowLook
{
    private static readonly FrozenSet<string> Totals =
        "total|totals|grand total|sub total|subtotal|sum|summe|gesamt|gesamtsumme|insgesamt|zwischensumme|somme|total general|suma|totalt|sum totalt|count|anzahl|nombre|antall"
            .Split('|')
            .ToFrozenSet();

    /// <summary>The problem that says what the row is; null for a row that may be anybody's.</summary>
    /// <param name="headings">The list's headings, folded.</param>
    public static Problem? Of(IReadOnlyList<string> cells, string[] headings)
    {
        var (filled, same) = (0, 0);
        var first = "";
        for (var i = 0; i < cells.Count; i++)
        {
            if (string.IsNullOrWhiteSpace(cells[i]))
                continue;
            filled++;
            var folded = Folding.Heading(cells[i]);
            same += i < headings.Length && folded.Length > 0 && folded == headings[i] ? 1 : 0;
            first = first.Length == 0 ? cells[i].Trim() : first;
        }
        if (filled >= 2 && same * 5 >= filled * 4)
            return new Problem("row-headings", "");
        if (Totals.Contains(Folding.Heading(first.Split(':')[0])))
            return new Problem("row-total", "", first);
        return filled == 1 && headings.Length >= 3 && first.Contains(' ', StringComparison.Ordinal) ? new Problem("row-remark", "", first) : null;
    }
}
