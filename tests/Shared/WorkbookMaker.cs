using System.Globalization;
using System.IO.Compression;
using System.Security;
using System.Text;

namespace DapperLantern.Tests.Shared;

/// <summary>A cell in another form than plain text: a number with a format, a date, a formula with its kept value, an error.</summary>
public abstract record SheetCell
{
    public sealed record Number(double Value, int Style = 0) : SheetCell;

    public sealed record Date(DateTime Value) : SheetCell;

    public sealed record Formula(string Text, string Kept) : SheetCell;

    public sealed record Error(string Text) : SheetCell;

    /// <summary>The style of a code with leading zeros, 00000.</summary>
    public const int Code = 2;
}

/// <param name="Rows">Cells: null, a text, or a <see cref="SheetCell"/>.</param>
/// <param name="Merged">Ranges such as <c>A1:C1</c>.</param>
public sealed record SheetOf(string Name, object?[][] Rows, bool Hidden = false, params string[] Merged);

/// <summary>Makes workbooks (ECMA-376) part by part, also such as no program would write.</summary>
public static class WorkbookMaker
{
    /// <summary>The same workbook in the strict form of the standard (ISO/IEC 29500-1): other namespaces, the same parts.</summary>
    public static byte[] Strict(byte[] workbook)
    {
        using var stream = new MemoryStream();
        stream.Write(workbook);
        using (var zip = new ZipArchive(stream, ZipArchiveMode.Update, true))
            foreach (var entry in zip.Entries.ToList())
            {
                string text;
                using (var reader = new StreamReader(entry.Open()))
                    text = reader.ReadToEnd();
                text = text.Replace("http://schemas.openxmlformats.org/spreadsheetml/2006/main", "http://purl.oclc.org/ooxml/spreadsheetml/main", StringComparison.Ordinal)
                    .Replace(
                        "http://schemas.openxmlformats.org/officeDocument/2006/relationships",
                        "http://purl.oclc.org/ooxml/officeDocument/relationships",
                        StringComparison.Ordinal
                    );
                // The part is written with its declaration again.
                text = text.StartsWith("<?xml", StringComparison.Ordinal) ? text[(text.IndexOf("?>", StringComparison.Ordinal) + 2)..] : text;
                var name = entry.FullName;
                entry.Delete();
                Part(zip, name, text);
            }
        return stream.ToArray();
    }

    public static byte[] Make(bool from1904, params SheetOf[] sheets)
    {
        using var stream = new MemoryStream();
        using (var zip = new ZipArchive(stream, ZipArchiveMode.Create, true))
        {
            Part(
                zip,
                "[Content_Types].xml",
                """<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Default Extension="xml" ContentType="application/xml"/><Override PartName="/xl/workbook.xml" ContentType="application/vnd.openxmlformats-officedocument.spreadsheetml.sheet.main+xml"/><Override PartName="/xl/styles.xml" ContentType="application/vnd.openxmlformats-officedocument.spreadsheetml.styles+xml"/>"""
                    + string.Concat(
                        sheets.Select(
                            (_, i) =>
                                $"""<Override PartName="/xl/worksheets/sheet{i + 1}.xml" ContentType="application/vnd.openxmlformats-officedocument.spreadsheetml.worksheet+xml"/>"""
                        )
                    )
                    + "</Types>"
            );
            Part(
                zip,
                "_rels/.rels",
                """<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Id="r1" Type="http://schemas.openxmlformats.org/officeDocument/2006/relationships/officeDocument" Target="xl/workbook.xml"/></Relationships>"""
            );
            Part(
                zip,
                "xl/workbook.xml",
                $"""<workbook xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main" xmlns:r="http://schemas.openxmlformats.org/officeDocument/2006/relationships"><workbookPr{(from1904 ? " date1904=\"1\"" : "")}/><sheets>"""
                    + string.Concat(
                        sheets.Select((s, i) => $"""<sheet name="{SecurityElement.Escape(s.Name)}" sheetId="{i + 1}" {(s.Hidden ? "state=\"hidden\" " : "")}r:id="r{i + 1}"/>""")
                    )
                    + "</sheets></workbook>"
            );
            Part(
                zip,
                "xl/_rels/workbook.xml.rels",
                """<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships">"""
                    + string.Concat(
                        sheets.Select(
                            (_, i) =>
                                $"""<Relationship Id="r{i + 1}" Type="http://schemas.openxmlformats.org/officeDocument/2006/relationships/worksheet" Target="worksheets/sheet{i + 1}.xml"/>"""
                        )
                    )
                    + """<Relationship Id="s" Type="http://schemas.openxmlformats.org/officeDocument/2006/relationships/styles" Target="styles.xml"/></Relationships>"""
            );
            Part(
                zip,
                "xl/styles.xml",
                """<styleSheet xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main"><numFmts count="1"><numFmt numFmtId="164" formatCode="00000"/></numFmts><fonts count="1"><font/></fonts><fills count="1"><fill/></fills><borders count="1"><border/></borders><cellStyleXfs count="1"><xf/></cellStyleXfs><cellXfs count="4"><xf numFmtId="0"/><xf numFmtId="14" applyNumberFormat="1"/><xf numFmtId="164" applyNumberFormat="1"/><xf numFmtId="22" applyNumberFormat="1"/></cellXfs></styleSheet>"""
            );
            for (var i = 0; i < sheets.Length; i++)
                Part(zip, $"xl/worksheets/sheet{i + 1}.xml", Sheet(sheets[i], from1904));
        }
        return stream.ToArray();
    }

    private static string Sheet(SheetOf sheet, bool from1904)
    {
        var xml = new StringBuilder("""<worksheet xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main"><sheetData>""");
        for (var r = 0; r < sheet.Rows.Length; r++)
        {
            xml.Append(CultureInfo.InvariantCulture, $"<row r=\"{r + 1}\">");
            for (var c = 0; c < sheet.Rows[r].Length; c++)
                xml.Append(Cell(sheet.Rows[r][c], $"{(char)('A' + c)}{r + 1}", from1904));
            xml.Append("</row>");
        }
        xml.Append("</sheetData>");
        if (sheet.Merged.Length > 0)
            xml.Append(null, $"<mergeCells count=\"{sheet.Merged.Length}\">{string.Concat(sheet.Merged.Select(m => $"<mergeCell ref=\"{m}\"/>"))}</mergeCells>");
        return xml.Append("</worksheet>").ToString();
    }

    private static string Cell(object? value, string at, bool from1904) =>
        value switch
        {
            null => "",
            SheetCell.Number n => string.Create(CultureInfo.InvariantCulture, $"<c r=\"{at}\" s=\"{n.Style}\"><v>{n.Value:R}</v></c>"),
            SheetCell.Date d => string.Create(
                CultureInfo.InvariantCulture,
                $"<c r=\"{at}\" s=\"{(d.Value.TimeOfDay == TimeSpan.Zero ? 1 : 3)}\"><v>{Serial(d.Value, from1904):R}</v></c>"
            ),
            SheetCell.Formula f => $"<c r=\"{at}\" t=\"str\"><f>{SecurityElement.Escape(f.Text)}</f><v>{SecurityElement.Escape(f.Kept)}</v></c>",
            SheetCell.Error e => $"<c r=\"{at}\" t=\"e\"><v>{e.Text}</v></c>",
            _ => $"<c r=\"{at}\" t=\"inlineStr\"><is><t xml:space=\"preserve\">{SecurityElement.Escape(value.ToString())}</t></is></c>",
        };

    // Days since the last day of 1899 (with its famous 29 February 1900), or since 1 January 1904.
    private static double Serial(DateTime date, bool from1904) => (date - (from1904 ? new DateTime(1904, 1, 1) : new DateTime(1899, 12, 30))).TotalDays;

    private static void Part(ZipArchive zip, string name, string xml)
    {
        using var writer = new StreamWriter(zip.CreateEntry(name).Open(), new UTF8Encoding(false));
        writer.Write("""<?xml version="1.0" encoding="UTF-8" standalone="yes"?>""" + xml);
    }
}
