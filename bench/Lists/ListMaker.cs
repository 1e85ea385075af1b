using System.Globalization;
using System.Text;
using DapperLantern.Tests.Shared;

namespace DapperLantern.Bench.Lists;

/// <summary>A row's true values, by field; found in the file by its mail address, which no other row has.</summary>
internal sealed record TrueRow(string Mark, IReadOnlyDictionary<string, string> Values);

/// <summary>A list as some program writes it, with what it truly says.</summary>
/// <param name="Columns">In their order: the field a column is, "note" for remarks, null for none of ours.</param>
internal sealed record MadeList(string Name, byte[] Content, string How, IReadOnlyList<string> Headings, IReadOnlyList<string?> Columns, IReadOnlyList<TrueRow> Rows);

/// <summary>Makes lists in the ways of spreadsheets and address programs: local settings, encodings, titles above, totals below, columns that are nothing of ours.</summary>
internal static class ListMaker
{
    private static readonly string[] People = ["first_name", "last_name", "email"];
    private static readonly string[] Others = ["phone", "company", "country", "city", "postal_code"];
    private static readonly string[] Foreign = ["-date", "-number", "-amount", "-flag", "-note", "-year", "-code"];

    /// <summary>The list of a number; the same seed gives the same.</summary>
    public static MadeList Make(int seed, int number)
    {
        var random = new Random(unchecked(seed * 7919 + number));
        var land = Land.All[number % Land.All.Length];
        var encoding = land.Encodings[number / Land.All.Length % land.Encodings.Length];
        var workbook = number % 7 == 6;
        var columns = People.Concat(Others.Where(_ => random.Next(10) < 7)).Concat(Foreign.Where(_ => random.Next(10) < 5)).OrderBy(_ => random.Next()).ToList();
        var headings = columns.Select((c, i) => random.Next(12) == 0 ? $"{(char)('A' + i)}{i + 1}" : One(land.Headings[c], random)).ToList();
        var rows = new List<(TrueRow True, List<string> Cells)>();
        for (var n = 0; n < random.Next(14, 32); n++)
            rows.Add(Row(land, columns, number, n, random));
        var table = new List<List<string>>();
        var titles = random.Next(3) == 0;
        if (titles)
            table.AddRange([
                [land.Title],
                [],
            ]);
        table.Add(headings);
        for (var n = 0; n < rows.Count; n++)
        {
            if (n == rows.Count / 2 && random.Next(8) == 0)
                table.Add(headings);
            table.Add(rows[n].Cells);
        }
        var total = random.Next(4) == 0;
        if (total)
            table.AddRange([
                [],
                [land.Total, .. Enumerable.Repeat("", columns.Count - 2), $"{rows.Count}"],
            ]);
        var info = workbook && random.Next(3) == 0;
        var content = workbook
            ? WorkbookMaker.Make(
                false,
                [
                    .. info
                        ?
                        [
                            new SheetOf(
                                "Info",
                                [
                                    [land.Title],
                                    [land.Total, $"{rows.Count}"],
                                ]
                            ),
                        ]
                        : Array.Empty<SheetOf>(),
                    new SheetOf("Data", [.. table.Select(r => r.ToArray<object?>())]),
                ]
            )
            : Text(table, land, encoding, random);
        var how = $"{land.Code}, {(workbook ? "xlsx" : encoding)}{(titles ? ", titles" : "")}{(total ? ", total" : "")}{(info ? ", info sheet" : "")}";
        return new MadeList(
            $"export-{number}.{(workbook ? "xlsx" : "csv")}",
            content,
            how,
            headings,
            [
                .. columns.Select(c =>
                    c == "-note" ? "note"
                    : c[0] == '-' ? null
                    : c
                ),
            ],
            [.. rows.Select(r => r.True)]
        );
    }

    private static (TrueRow, List<string>) Row(Land land, List<string> columns, int list, int n, Random random)
    {
        // One in eight is from elsewhere, where the list says the country.
        var from = columns.Contains("country") && random.Next(8) == 0 ? Land.All[random.Next(5)] : land;
        var mark = $"p{list}x{n}@{(char)('a' + random.Next(26))}torv{random.Next(90)}.example";
        var (digits, written) = Phone(from, random);
        var truth = new Dictionary<string, string>
        {
            ["first_name"] = One(land.First, random),
            ["last_name"] = One(land.Last, random),
            ["email"] = mark,
            ["phone"] = digits,
            ["company"] = One(land.Companies, random),
            ["country"] = from.Code,
            ["city"] = One(land.Cities, random),
            ["postal_code"] = Postal(from, random),
        };
        var cells = columns
            .Select(c =>
                c switch
                {
                    "phone" => written,
                    "country" => random.Next(4) == 0 ? from.Code : from.Name,
                    "-date" => new DateTime(2019, 1, 1).AddDays(random.Next(2500)).ToString(land.Dates, CultureInfo.InvariantCulture),
                    "-number" => $"{random.Next(10_000_000, 99_999_999)}",
                    "-amount" => Amount(random.Next(100, 900_000), land.Decimal),
                    "-flag" => One(land.YesNo, random),
                    "-note" => random.Next(3) == 0 ? $"{One(land.Companies, random)}: 2 x{land.Separator} A 4\n{One(land.Cities, random)}, {random.Next(1, 28)}" : "",
                    "-year" => $"{random.Next(1890, 2024)}",
                    "-code" => $"{(char)('A' + random.Next(26))}{random.Next(100, 999)}-{random.Next(10, 99)}",
                    _ => truth[c],
                }
            )
            .ToList();
        return (new TrueRow(mark, truth.Where(t => columns.Contains(t.Key)).ToDictionary()), cells);
    }

    private static string Postal(Land land, Random random) =>
        land.Code switch
        {
            "GB" => $"YO{random.Next(1, 30)} {random.Next(1, 9)}AB",
            "NO" => $"{random.Next(0, 9991):0000}",
            "PL" => $"{random.Next(10, 99)}-{random.Next(100, 999)}",
            "RU" => $"{random.Next(101_000, 199_999)}",
            "JP" => $"{random.Next(100, 999)}-{random.Next(1000, 9999)}",
            _ => $"{random.Next(1001, 98_999):00000}",
        };

    private static (string E164, string Written) Phone(Land land, Random random)
    {
        var area = One(land.AreaCodes, random);
        var rest = string.Concat(
            Enumerable.Range(0, land.Digits - (area.Length > 2 && land.Dial == "44" ? 1 : 0)).Select(i => (char)(i == 0 ? '3' + random.Next(5) : '0' + random.Next(10)))
        );
        var spaced = string.Join(' ', rest.Chunk(2).Select(c => new string(c)));
        return (
            $"+{land.Dial}{area}{rest}",
            random.Next(5) switch
            {
                0 => $"+{land.Dial} {area} {spaced}",
                1 => $"00{land.Dial} {area} {rest}",
                2 => land.Trunk == "0" ? $"+{land.Dial} (0){area} {rest}" : $"+{land.Dial}{area}{rest}",
                3 => $"{land.Trunk}{area}/{rest}",
                _ => $"{land.Trunk}{area} {spaced}",
            }
        );
    }

    private static string Amount(int number, char mark)
    {
        var text = number.ToString("#,0.00", CultureInfo.InvariantCulture);
        return mark == ',' ? text.Replace(',', ' ').Replace('.', ',').Replace(' ', '.') : text;
    }

    private static byte[] Text(List<List<string>> table, Land land, string encoding, Random random)
    {
        var separator = random.Next(6) == 0 ? '\t' : land.Separator;
        var always = random.Next(3) == 0;
        var text = string.Join(
            "\r\n",
            table.Select(row =>
                string.Join(
                    separator,
                    row.Select(c => (always && c.Length > 0) || c.AsSpan().ContainsAny(separator, '"', '\n') ? $"\"{c.Replace("\"", "\"\"", StringComparison.Ordinal)}\"" : c)
                )
            )
        );
        var with = encoding == "utf-8-bom" ? new UTF8Encoding(true) : Encoding.GetEncoding(encoding);
        return [.. encoding is "utf-8-bom" or "utf-16" ? with.GetPreamble() : [], .. with.GetBytes(text)];
    }

    private static string One(string[] of, Random random) => of[random.Next(of.Length)];
}
