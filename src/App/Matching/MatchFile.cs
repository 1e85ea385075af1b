using System.Collections.Immutable;
using System.Globalization;
using DapperLantern.App.Data;
using DapperLantern.App.Intake.Lists;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Intake;
using DapperLantern.Core.Matching;
using NodaTime;

namespace DapperLantern.App.Matching;

/// <summary>
/// Finds duplicates in one list, or between two, without a server: <c>match FILE [FILE] [--country XX] [--as HEADING=FIELD,...] [--truth HEADING] [--learn] [--out FILE]</c>. Columns are matched
/// as on Intake; a date of birth is compared too. With <c>--truth</c>, a column in which rows of one person hold the same, it says how well it did.
/// </summary>
public static class MatchFile
{
    private const int RowsLookedAt = 500;
    private const int PairsByChance = 500_000;
    private const string BirthField = "date_of_birth";

    private static readonly HashSet<string> BirthHeadings =
    [
        "date of birth",
        "birth date",
        "birthdate",
        "dob",
        "born",
        "geburtsdatum",
        "geburtstag",
        "date de naissance",
        "fecha de nacimiento",
        "fodselsdato",
    ];

    private sealed record Row(string File, int Number, Identity Who, string? Truth);

    /// <returns>0 when it was done; 2 with a sentence when it could not be.</returns>
    public static async Task<int> Run(IReadOnlyList<string> arguments, TextWriter output, TextWriter told)
    {
        var files = arguments.TakeWhile(a => !a.StartsWith("--", StringComparison.Ordinal)).ToList();
        var options = Options(arguments.Skip(files.Count).ToList());
        if (files.Count is not (1 or 2) || options is null)
        {
            await told.WriteLineAsync("match FILE [FILE] [--country XX] [--as HEADING=FIELD,...] [--truth HEADING] [--learn] [--out FILE]");
            return 2;
        }
        var catalogue = FieldCatalogue.Build(custom: [new CustomField(BirthField, "Date of birth", FieldType.Date, Personal: true)]);
        var rows = new List<Row>();
        foreach (var file in files)
            if (ReadRows(file, catalogue, options, rows, told) is { } trouble)
            {
                await told.WriteLineAsync($"{file}: {trouble}");
                return 2;
            }
        var first = rows.Count(r => r.File == files[0]);
        var people = rows.Select(r => r.Who).ToList();
        var model = options.ContainsKey("learn")
            ? MatchEstimator.Run(MatchModel.Shipped, Pairs.ByChance(people, PairsByChance, new Random(1).Next), Pairs.Looks(people)).Model
            : MatchModel.Shipped;
        var matcher = new Matcher(model, people.Count, Pairs.Shares(people));
        var clock = System.Diagnostics.Stopwatch.StartNew();
        var pairs = Pairs.Find(people, matcher, files.Count == 2 ? first : 0).Where(p => files.Count == 1 || (p.A < first && p.B >= first)).OrderByDescending(p => p.Bits).ToList();
        await told.WriteLineAsync(
            string.Create(
                CultureInfo.InvariantCulture,
                $"{rows.Count} rows, {pairs.Count(p => p.Bits >= matcher.Bars.Link)} pairs linked from {matcher.Bars.Link} bits, {pairs.Count(p => p.Bits < matcher.Bars.Link)} more asked about from {matcher.Bars.Ask}, in {clock.Elapsed.TotalSeconds:0.0} s"
            )
        );
        if (options.ContainsKey("truth"))
            WriteExplanations(rows, pairs, matcher, files.Count == 2 ? first : 0, told);
        if (options.TryGetValue("out", out var path))
        {
            await using var written = new StreamWriter(path);
            Write(rows, pairs, matcher, written);
        }
        else
            Write(rows, pairs, matcher, output);
        return 0;
    }

    private static Dictionary<string, string>? Options(List<string> rest)
    {
        var options = new Dictionary<string, string>();
        for (var i = 0; i < rest.Count; i++)
            switch (rest[i])
            {
                case "--learn":
                    options["learn"] = "";
                    break;
                case "--country" or "--as" or "--truth" or "--out" when i + 1 < rest.Count:
                    options[rest[i][2..]] = rest[++i];
                    break;
                default:
                    return null;
            }
        return options;
    }

    private static string? ReadRows(string file, FieldCatalogue catalogue, Dictionary<string, string> options, List<Row> rows, TextWriter told)
    {
        if (!File.Exists(file))
            return "there is no such file.";
        using var stream = File.OpenRead(file);
        var (reading, trouble) = ListFile.Detect(stream, catalogue);
        if (reading is null)
            return trouble!.Words;
        var (headings, all) = ListFile.Open(stream, reading);
        var columns = Columns(catalogue, headings, [.. all.Take(RowsLookedAt).Select(r => r.Cells)], options);
        told.WriteLine($"{Path.GetFileName(file)}: {string.Join(", ", columns.Where(c => c.Target is not null).Select(c => $"{c.Heading} is {c.Target}"))}");
        var truth = options.TryGetValue("truth", out var name) ? headings.ToList().FindIndex(h => h.Trim().Equals(name, StringComparison.OrdinalIgnoreCase)) : -1;
        if (name is not null && truth < 0)
            return $"there is no column \u201c{name}\u201d.";
        var born = columns.FirstOrDefault(c => c.Target == BirthField)?.Index;
        var reader = new RowReader(catalogue, new SiftPlan([.. columns.Select(c => c.Target == BirthField ? c with { Target = null } : c)], options.GetValueOrDefault("country")));
        foreach (var row in ListFile.Open(stream, reading).Rows.Where(r => r.Broken is null))
        {
            var values = reader.Read(row.Cells, row.Number).Values;
            if (born is { } at && at < row.Cells.Length && BornOn(row.Cells[at]) is { } day)
                values[BirthField] = FieldValue.Of(day);
            rows.Add(new Row(file, row.Number, Identity.Of(values), truth >= 0 && truth < row.Cells.Length ? row.Cells[truth].Trim() : null));
        }
        return null;
    }

    // As on Intake, but for what the options say and a date of birth; what goes nowhere is left out.
    private static ImmutableArray<ColumnMatch> Columns(FieldCatalogue catalogue, IReadOnlyList<string> headings, IReadOnlyList<string[]> rows, Dictionary<string, string> options)
    {
        var said = (options.GetValueOrDefault("as") ?? "")
            .Split(',', StringSplitOptions.RemoveEmptyEntries)
            .Select(p => p.Split('='))
            .Where(p => p.Length == 2)
            .ToDictionary(p => p[0].Trim(), p => p[1].Trim(), StringComparer.OrdinalIgnoreCase);
        return
        [
            .. ColumnMatcher
                .Match(catalogue, headings, rows)
                .Select(c =>
                    said.TryGetValue(c.Heading.Trim(), out var target)
                        ? c with
                        {
                            Target = target.Length == 0 || (catalogue.Find(target) is null && Composites.Find(target) is null) ? null : target,
                        }
                    : BirthHeadings.Contains(Folding.Heading(c.Heading)) ? c with { Target = BirthField }
                    : c
                ),
        ];
    }

    private static Instant? BornOn(string text)
    {
        var digits = text.Trim();
        // Day and month stand the other way round where there is no such month.
        if (digits.Length == 8 && digits.All(char.IsAsciiDigit))
            return DateTime.TryParseExact(
                digits,
                ["yyyyMMdd", "yyyyddMM"],
                CultureInfo.InvariantCulture,
                DateTimeStyles.AssumeUniversal | DateTimeStyles.AdjustToUniversal,
                out var day
            )
                ? Instant.FromDateTimeUtc(day)
                : null;
        return DateReader.Read(digits, DateOrder.DayFirst);
    }

    // Of all pairs that are one by the truth, in one list or across two.
    private static void WriteExplanations(List<Row> rows, List<WeighedPair> pairs, Matcher matcher, int from, TextWriter told)
    {
        var groups = rows.Select((r, i) => (r.Truth, i)).Where(r => !string.IsNullOrEmpty(r.Truth)).GroupBy(r => r.Truth).Select(g => g.Select(r => r.i).ToList());
        var all = groups.Sum(g => from == 0 ? (long)g.Count * (g.Count - 1) / 2 : (long)g.Count(i => i < from) * g.Count(i => i >= from));
        foreach (var (name, found) in new[] { ("linked", pairs.Where(p => p.Bits >= matcher.Bars.Link).ToList()), ("linked or asked", pairs) })
        {
            var right = found.Count(p => rows[p.A].Truth is { Length: > 0 } truth && truth == rows[p.B].Truth);
            var (precision, recall) = ((double)right / Math.Max(1, found.Count), (double)right / Math.Max(1, all));
            told.WriteLine(
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"{name}: precision {precision:0.0000}, recall {recall:0.0000}, F1 {(right == 0 ? 0 : 2 * precision * recall / (precision + recall)):0.0000}"
                )
            );
        }
    }

    private static void Write(List<Row> rows, List<WeighedPair> pairs, Matcher matcher, TextWriter output)
    {
        output.Write(Csv.Line(["file", "row", "other_file", "other_row", "bits", "outcome", "evidence"]));
        foreach (var (a, b, bits) in pairs)
            output.Write(
                Csv.Line([
                    Path.GetFileName(rows[a].File),
                    rows[a].Number.ToString(CultureInfo.InvariantCulture),
                    Path.GetFileName(rows[b].File),
                    rows[b].Number.ToString(CultureInfo.InvariantCulture),
                    bits.ToString("0.0", CultureInfo.InvariantCulture),
                    bits >= matcher.Bars.Link ? "link" : "ask",
                    string.Join("; ", matcher.Compare(rows[a].Who, rows[b].Who).Evidence.Select(e => string.Create(CultureInfo.InvariantCulture, $"{e.Words} {e.Bits:+0.0;-0.0}"))),
                ])
            );
    }
}
