using System.Text;
using DapperLantern.Core.Fields;
using MiniExcelLibs;
using NodaTime;
using NodaTime.Text;

namespace DapperLantern.App.Data;

/// <summary>A table on its way out, as separated values or as a workbook. Cells are texts, or values that a workbook keeps as numbers and dates. Nothing in either can become a formula.</summary>
public static class TableFile
{
    public const string Text = "csv";
    public const string Xlsx = "xlsx";

    private const string Workbook = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet";

    /// <summary>Sends a table. Separated values are streamed; a workbook is made in a file first, for it cannot be sent before it is whole. Memory grows with neither.</summary>
    /// <param name="name">Of the file, without its ending.</param>
    /// <param name="rows">As many cells as headings: a text, a <see cref="FieldValue"/>, a <see cref="LocalDate"/>, or null.</param>
    /// <param name="zone">In which a workbook shows moments, for its cells cannot hold a zone; UTC where null. Separated values hold moments in ISO 8601 with their zone.</param>
    public static async Task Send(
        HttpResponse answer,
        string name,
        string format,
        IReadOnlyList<string> headings,
        IAsyncEnumerable<object?[]> rows,
        DateTimeZone? zone,
        CancellationToken cancel
    )
    {
        answer.ContentType = format == Xlsx ? Workbook : "text/csv; charset=utf-8";
        answer.Headers.ContentDisposition = $"attachment; filename=\"{name}.{format}\"";
        if (format == Xlsx)
            await SendWorkbook(answer.Body, headings, rows, zone ?? DateTimeZone.Utc, cancel);
        else
            await SendText(answer.Body, headings, rows, cancel);
    }

    private static async Task SendText(Stream to, IReadOnlyList<string> headings, IAsyncEnumerable<object?[]> rows, CancellationToken cancel)
    {
        await using var text = new StreamWriter(to, new UTF8Encoding(true), 1 << 16, leaveOpen: true);
        await text.WriteAsync(Data.Csv.Line(headings));
        await foreach (var row in rows.WithCancellation(cancel))
            await text.WriteAsync(Data.Csv.Line(row.Select(Written)));
    }

    private static string Written(object? cell) => cell is LocalDate day ? LocalDatePattern.Iso.Format(day) : cell?.ToString() ?? "";

    private static async Task SendWorkbook(Stream to, IReadOnlyList<string> headings, IAsyncEnumerable<object?[]> rows, DateTimeZone zone, CancellationToken cancel)
    {
        await using var file = new FileStream(
            Path.GetTempFileName(),
            FileMode.Create,
            FileAccess.ReadWrite,
            FileShare.None,
            1 << 16,
            FileOptions.DeleteOnClose | FileOptions.Asynchronous
        );
        var keys = Unlike(headings);
        // The writer asks for rows one after the other and does not wait for them, so it has a thread of its own.
        await Task.Run(() => file.SaveAs(Records(keys, rows, zone, cancel), sheetName: "Leads"), cancel);
        file.Position = 0;
        await file.CopyToAsync(to, cancel);
    }

    private static IEnumerable<Dictionary<string, object?>> Records(List<string> keys, IAsyncEnumerable<object?[]> rows, DateTimeZone zone, CancellationToken cancel)
    {
        var any = false;
        foreach (var row in rows.ToBlockingEnumerable(cancel))
        {
            any = true;
            yield return keys.Zip(row).ToDictionary(c => c.First, c => Cell(c.Second, zone));
        }
        // Headings are written with the first row, so that a table without one still has them.
        if (!any)
            yield return keys.ToDictionary(k => k, _ => (object?)null);
    }

    private static object? Cell(object? cell, DateTimeZone zone) =>
        cell switch
        {
            FieldValue { Kind: ValueKind.Number } value => value.Number,
            FieldValue { Kind: ValueKind.Moment } value => value.Moment.InZone(zone).ToDateTimeUnspecified(),
            FieldValue value => value.ToString(),
            LocalDate day => day.ToDateTimeUnspecified(),
            _ => cell,
        };

    private static List<string> Unlike(IReadOnlyList<string> headings)
    {
        var keys = new List<string>(headings.Count);
        foreach (var heading in headings)
            keys.Add(keys.Contains(heading) ? $"{heading} ({keys.Count + 1})" : heading);
        return keys;
    }
}
