using System.IO.Compression;
using System.Xml;

namespace DapperLantern.App.Intake.Lists;

/// <summary>The cells of a sheet whose formula failed, with what they show: "#N/A", "#DIV/0!". The reader of workbooks gives blanks for them, which would hide that something was meant to stand there.</summary>
public sealed class ErrorCells
{
    private const int MostKept = 200_000;
    private static readonly byte[] Sign = "t=\"e\""u8.ToArray();

    private readonly Dictionary<int, List<(int Column, string Text)>> _byRow = [];

    /// <summary>
    /// Those of one sheet of a packed workbook; none for others. Looks through the sheet's bytes first: most sheets have none. The stream is left
    /// where it was, so that who reads it goes on.
    /// </summary>
    public static ErrorCells Of(Stream stream, string sheet)
    {
        var cells = new ErrorCells();
        var at = stream.Position;
        stream.Position = 0;
        if (stream.ReadByte() == 'P')
            cells.Find(stream, sheet);
        stream.Position = at;
        return cells;
    }

    private void Find(Stream stream, string sheet)
    {
        stream.Position = 0;
        using var zip = new ZipArchive(stream, ZipArchiveMode.Read, leaveOpen: true);
        if (PartOf(zip, sheet) is { } part && HasAny(part))
            Read(part);
    }

    /// <summary>Puts what the failed cells of a row show into its blanks.</summary>
    /// <param name="row">From 0.</param>
    public void Fill(string[] cells, int row)
    {
        if (!_byRow.TryGetValue(row, out var errors))
            return;
        foreach (var (column, text) in errors)
            if (column < cells.Length && cells[column].Length == 0)
                cells[column] = text;
    }

    private static ZipArchiveEntry? PartOf(ZipArchive zip, string sheet)
    {
        if (Load(zip, "xl/workbook.xml") is not { } book || Load(zip, "xl/_rels/workbook.xml.rels") is not { } links)
            return null;
        var id = book.GetElementsByTagName("sheet", "*")
            .OfType<XmlElement>()
            .FirstOrDefault(s => s.GetAttribute("name") == sheet)
            ?.Attributes.OfType<XmlAttribute>()
            .FirstOrDefault(a => a.LocalName == "id")
            ?.Value;
        var target = links.GetElementsByTagName("Relationship", "*").OfType<XmlElement>().FirstOrDefault(r => r.GetAttribute("Id") == id)?.GetAttribute("Target");
        return target is null ? null : zip.GetEntry(target.StartsWith('/') ? target[1..] : $"xl/{target}");
    }

    private static XmlDocument? Load(ZipArchive zip, string name)
    {
        if (zip.GetEntry(name) is not { } entry)
            return null;
        var document = new XmlDocument { XmlResolver = null };
        using var stream = entry.Open();
        using var reader = XmlReader.Create(stream, Safe);
        document.Load(reader);
        return document;
    }

    private static readonly XmlReaderSettings Safe = new() { DtdProcessing = DtdProcessing.Prohibit, XmlResolver = null };

    // A sign cut in two by the end of a piece is found because the end is carried over.
    private static bool HasAny(ZipArchiveEntry part)
    {
        using var stream = part.Open();
        var piece = new byte[1 << 16];
        for (var held = 0; ; )
        {
            var read = stream.Read(piece, held, piece.Length - held);
            if (read == 0)
                return false;
            var all = piece.AsSpan(0, held + read);
            if (all.IndexOf(Sign) >= 0)
                return true;
            held = Math.Min(Sign.Length - 1, all.Length);
            all[^held..].CopyTo(piece);
        }
    }

    private void Read(ZipArchiveEntry part)
    {
        using var stream = part.Open();
        using var reader = XmlReader.Create(stream, Safe);
        var kept = 0;
        while (kept < MostKept && reader.Read())
            if (reader is { NodeType: XmlNodeType.Element, LocalName: "c" } && reader.GetAttribute("t") == "e" && Place(reader.GetAttribute("r")) is var (row, column))
            {
                using var cell = reader.ReadSubtree();
                var text = cell.ReadToDescendant("v", reader.NamespaceURI) ? cell.ReadElementContentAsString() : "#N/A";
                if (!_byRow.TryGetValue(row, out var errors))
                    _byRow[row] = errors = [];
                errors.Add((column, text));
                kept++;
            }
    }

    // "F2" is row 1, column 5.
    private static (int Row, int Column)? Place(string? at)
    {
        var column = 0;
        var i = 0;
        for (; i < at?.Length && char.IsAsciiLetterUpper(at[i]) && i < 3; i++)
            column = column * 26 + (at[i] - 'A' + 1);
        return i > 0 && int.TryParse(at.AsSpan(i), out var row) && row > 0 ? (row - 1, column - 1) : null;
    }
}
