using System.Collections.Immutable;
using System.Text;
using System.Text.Json;
using DapperLantern.App.Data;
using DapperLantern.App.Intake.Lists;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Routing;

namespace DapperLantern.App.Routing;

/// <summary>A form in which rule sheets go out and come in.</summary>
internal sealed record SheetFile(string Form, string Ending, string ContentType, Func<RuleSheet, FieldCatalogue, string> Write, Func<string, FieldCatalogue, SheetReading> Read);

internal static class SheetFiles
{
    private static readonly SheetFile[] All =
    [
        new("json", "json", "application/json", (sheet, _) => JsonSerializer.Serialize(sheet, Json.Readable), (text, _) => ReadJson(text)),
        new("dmn", "dmn", "application/xml", SheetDmn.Write, SheetDmn.Read),
        new("csv", "csv", "text/csv", WriteCsv, ReadCsv),
    ];

    public static SheetFile? Find(string form) => All.FirstOrDefault(f => f.Form == form);

    private static SheetReading ReadJson(string text)
    {
        try
        {
            return JsonSerializer.Deserialize<RuleSheet>(text, Json.Options) is { } sheet && SheetSound.Made(sheet) is { } made
                ? new SheetReading(made, [])
                : SheetReading.Refused(new Problem("file-no-sheet", ""));
        }
        catch (JsonException e)
        {
            return SheetReading.Refused(new Problem("file-unreadable", e.Path ?? "", $"line {e.LineNumber + 1}, place {e.BytePositionInLine + 1}"));
        }
    }

    // The rules only: what the sheet says beside them a table of values has no place for.
    private static string WriteCsv(RuleSheet sheet, FieldCatalogue catalogue)
    {
        var columns = SheetTable.ColumnsOf(sheet);
        var lines = new StringBuilder(Csv.Line([SheetTable.Key, SheetTable.Name, SheetTable.Moments, .. columns, .. SheetTable.Outputs]));
        foreach (var rule in sheet.Rules)
            lines.Append(
                Csv.Line([
                    rule.Key,
                    rule.Name,
                    string.Join(' ', rule.Moments),
                    .. columns.Select(c => SheetTable.CellOf(rule, c, catalogue) is var cell && cell == Core.Conditions.CellText.Any ? "" : cell),
                    .. SheetTable.OutputsOf(rule),
                ])
            );
        return "\ufeff" + lines;
    }

    private static SheetReading ReadCsv(string text, FieldCatalogue catalogue)
    {
        var body = text.TrimStart('\ufeff');
        var lines = SeparatedText.Rows(new StringReader(body), SeparatedText.DetectSeparator(body.Length > 4096 ? body[..4096] : body)).ToList();
        if (lines.Count == 0 || lines[0].Cells.Select(c => c.Trim()).ToArray() is var headings && !headings.Contains("goes to"))
            return SheetReading.Refused(new Problem("csv-no-sheet", ""));
        string[] known = [SheetTable.Key, SheetTable.Name, SheetTable.Moments, .. SheetTable.Outputs];
        var columns = headings.Where(h => !known.Contains(h)).ToImmutableArray();
        var problems = columns.Where(c => catalogue.Find(c) is not { Origin: not FieldOrigin.Arrival }).Select(c => new Problem("field-unknown", "line 1", c)).ToList();
        if (problems.Count > 0)
            return SheetReading.Refused([.. problems]);
        var rules = ImmutableArray.CreateBuilder<Rule>();
        foreach (var row in lines.Skip(1))
        {
            var line = row.Number;
            if (row.Broken is { } broken)
            {
                problems.Add(new Problem("row-unreadable", $"line {line}", broken));
                continue;
            }
            var texts = headings.Zip(row.Cells).GroupBy(p => p.First).ToDictionary(g => g.Key, g => Csv.Meant(g.First().Second));
            if (texts.GetValueOrDefault(SheetTable.Key, "").Length == 0)
                texts[SheetTable.Key] = $"rule-{rules.Count + 1}";
            if (SheetTable.RuleOf(texts, columns, catalogue, heading => $"line {line}, {heading}", problems) is { } rule)
                rules.Add(rule);
        }
        return new SheetReading(problems.Count == 0 ? RuleSheet.Empty with { Columns = columns, Rules = rules.ToImmutable() } : null, [.. problems]);
    }
}
