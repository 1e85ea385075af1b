using System.Text;
using DapperLantern.App.Intake.Lists;
using DapperLantern.Core.Fields;

namespace DapperLantern.App.Tests.Intake.Lists;

/// <summary>Reading lists from bytes, as the tests of the readers share it.</summary>
internal static class Read
{
    public static FieldCatalogue Catalogue { get; } = FieldCatalogue.Build();

    public static ListReading Detected(byte[] content) =>
        ListFile.Detect(new MemoryStream(content), Catalogue) is ({ } reading, _) ? reading : throw new InvalidOperationException(Refused(content));

    public static string Refused(byte[] content) => ListFile.Detect(new MemoryStream(content), Catalogue).Trouble.ShouldNotBeNull().Code;

    public static (string[] Headings, List<ListRow> Rows) All(byte[] content, ListReading? reading = null)
    {
        var (headings, rows) = ListFile.Open(new MemoryStream(content), reading ?? Detected(content));
        return (headings, [.. rows]);
    }

    public static byte[] Bytes(string text) => Encoding.UTF8.GetBytes(text);

    /// <summary>Rows under the heading row of separated text, as it stands.</summary>
    public static List<ListRow> Rows(string text, char separator = ',') => All(Bytes(text), new ListReading(ListFormat.Separated, "utf-8", separator.ToString())).Rows;

    /// <summary>The rows as pairs of heading and value, blanks left out.</summary>
    public static List<Dictionary<string, string>> Named(byte[] content)
    {
        var (headings, rows) = All(content);
        return [.. rows.Select(r => headings.Zip(r.Cells).Where(c => c.Second.Length > 0).ToDictionary(c => c.First, c => c.Second))];
    }
}
