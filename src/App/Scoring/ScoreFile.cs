using System.Collections.Immutable;
using System.Globalization;
using System.Text.Json;
using System.Text.Json.Nodes;
using DapperLantern.App.Data;
using DapperLantern.App.Intake.Lists;
using DapperLantern.App.Leads;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Intake;
using DapperLantern.Core.Scoring;
using NodaTime;
using NodaTime.Text;

namespace DapperLantern.App.Scoring;

/// <summary>
/// Scores a list by a model file, without a server: <c>score MODEL LEADS [--events FILE] [--setup FILE] [--country XX] [--at MOMENT] [--out FILE]</c>. Columns are matched as on Intake. The
/// events are a list with the columns mail, kind, at and detail; the setup brings value lists and custom fields (<c>valueLists</c>, <c>customFields</c>).
/// </summary>
public static class ScoreFile
{
    private const int RowsLookedAt = 500;
    private static readonly string[] Known = ["events", "setup", "country", "at", "out"];

    private sealed record Job(ScoringModel Model, FieldCatalogue Catalogue, ILookup<string, LeadEvent> Events, Instant At);

    /// <returns>0 when it was done; 2 with a sentence when it could not be.</returns>
    public static async Task<int> Run(IReadOnlyList<string> arguments, TextWriter output, TextWriter told)
    {
        if (arguments.Count < 2 || Options([.. arguments.Skip(2)]) is not { } options)
            return await Refuse(told, "score MODEL LEADS [--events FILE] [--setup FILE] [--country XX] [--at MOMENT] [--out FILE]");
        if (new[] { arguments[0], arguments[1] }.Concat(options.Where(o => o.Key is "events" or "setup").Select(o => o.Value)).FirstOrDefault(f => !File.Exists(f)) is { } missing)
            return await Refuse(told, $"{missing}: there is no such file.");
        var at = InstantPattern.ExtendedIso.Parse(options.GetValueOrDefault("at") ?? "");
        if (options.ContainsKey("at") && !at.Success)
            return await Refuse(told, "--at takes a moment as 2026-11-23T12:00:00Z.");
        if (Catalogue(options.GetValueOrDefault("setup")) is not { } catalogue)
            return await Refuse(told, $"{options["setup"]}: this is no setup file.");
        var reading = ModelFile.Read(await File.ReadAllTextAsync(arguments[0]));
        if (reading.Model is not { } model)
            return await Refuse(told, $"{arguments[0]}: {reading.Problems[0].Words}");
        var findings = ModelCheck.Check(model, catalogue);
        foreach (var problem in reading.Problems.Concat(findings.Select(f => f.Problem)))
            await told.WriteLineAsync($"{(problem.Path.Length > 0 ? problem.Path : "model")}: {problem.Words}");
        if (findings.Any(f => f.Blocks))
            return 2;
        var job = new Job(model, catalogue, Events(options.GetValueOrDefault("events"), told), at.Success ? at.Value : SystemClock.Instance.GetCurrentInstant());
        await using var written = options.TryGetValue("out", out var path) ? new StreamWriter(path) : null;
        return await Score(job, arguments[1], options.GetValueOrDefault("country"), written ?? output, told);
    }

    private static async Task<int> Refuse(TextWriter told, string sentence)
    {
        await told.WriteLineAsync(sentence);
        return 2;
    }

    private static Dictionary<string, string>? Options(List<string> rest)
    {
        var options = new Dictionary<string, string>();
        for (var i = 0; i < rest.Count; i += 2)
            if (i + 1 < rest.Count && rest[i].StartsWith("--", StringComparison.Ordinal) && Known.Contains(rest[i][2..]))
                options[rest[i][2..]] = rest[i + 1];
            else
                return null;
        return options;
    }

    private static FieldCatalogue? Catalogue(string? setup)
    {
        if (setup is null)
            return FieldCatalogue.Build();
        try
        {
            var file = JsonNode.Parse(File.ReadAllText(setup));
            var lists = file?["valueLists"].Deserialize<Dictionary<string, ImmutableArray<Choice>>>(Json.Options);
            return FieldCatalogue.Build(lists, file?["customFields"].Deserialize<List<CustomField>>(Json.Options));
        }
        catch (Exception e) when (e is JsonException or InvalidOperationException)
        {
            return null;
        }
    }

    private static ILookup<string, LeadEvent> Events(string? file, TextWriter told)
    {
        var events = new List<(string Mail, LeadEvent Event)>();
        if (file is not null)
        {
            using var stream = File.OpenRead(file);
            var (reading, _) = ListFile.Detect(stream, FieldCatalogue.Build());
            if (reading is null)
            {
                told.WriteLine($"{file}: this list cannot be read, so nothing is engaged.");
                return events.ToLookup(e => e.Mail, e => e.Event);
            }
            var (headings, rows) = ListFile.Open(stream, reading);
            var places = new[] { "mail", "kind", "at", "detail" }
                .Select(name => headings.ToList().FindIndex(h => h.Trim().Equals(name, StringComparison.OrdinalIgnoreCase)))
                .ToArray();
            foreach (var row in rows.Where(r => r.Broken is null))
            {
                string Cell(int place) => places[place] >= 0 && places[place] < row.Cells.Length ? row.Cells[places[place]].Trim() : "";
                if (DateReader.Read(Cell(2), DateOrder.DayFirst) is { } day)
                    events.Add(
                        (Cell(0).ToLowerInvariant(), new LeadEvent(Cell(1), InstantPattern.ExtendedIso.Parse(Cell(2)) is { Success: true } exact ? exact.Value : day, Cell(3)))
                    );
                else
                    told.WriteLine($"{file}, row {row.Number}: \u201c{Cell(2)}\u201d is no moment; the event is left out.");
            }
        }
        return events.ToLookup(e => e.Mail, e => e.Event);
    }

    private static async Task<int> Score(Job job, string file, string? country, TextWriter output, TextWriter told)
    {
        await using var stream = File.OpenRead(file);
        var (reading, trouble) = ListFile.Detect(stream, job.Catalogue);
        if (reading is null)
            return await Refuse(told, $"{file}: {trouble!.Words}");
        var (headings, all) = ListFile.Open(stream, reading);
        var columns = ColumnMatcher.Match(job.Catalogue, headings, [.. all.Take(RowsLookedAt).Select(r => r.Cells)]);
        await told.WriteLineAsync($"{Path.GetFileName(file)}: {string.Join(", ", columns.Where(c => c.Target is not null).Select(c => $"{c.Heading} is {c.Target}"))}");
        var reader = new RowReader(job.Catalogue, new SiftPlan([.. columns], country));
        var (fit, engagement) = (new FitScore(job.Model, job.Catalogue), new EngagementScore(job.Model));
        await output.WriteAsync(Csv.Line(["row", "name", "fit", "fit_low", "fit_high", "engagement", "next_move", "ask_next", "fit_reasons", "engagement_reasons"]));
        var count = 0;
        foreach (var row in ListFile.Open(stream, reading).Rows.Where(r => r.Broken is null))
        {
            var facts = reader.Read(row.Cells, row.Number).Values;
            var (fits, engaged) = (fit.Explain(facts, job.At), engagement.Explain([.. job.Events[facts.Text("email") ?? ""]], job.At));
            await output.WriteAsync(
                Csv.Line([
                    Number(row.Number),
                    LeadRecord.NameOf(facts),
                    Number(fits.Score),
                    Number(fits.Low),
                    Number(fits.High),
                    Number(engaged.Score),
                    NextMove.Named(job.Model.Names).First(m => m.Key == default(Cleared).Next(fits.Score, engaged.Score, job.Model.Bars).Move).Label,
                    fits.Unknown.FirstOrDefault()?.Label ?? "",
                    Reasons(fits.Contributions),
                    Reasons(engaged.Contributions),
                ])
            );
            count++;
        }
        await told.WriteLineAsync($"{count} leads scored");
        return 0;
    }

    private static string Number(int number) => number.ToString(CultureInfo.InvariantCulture);

    private static string Reasons(ImmutableArray<Contribution> contributions) =>
        string.Join("; ", contributions.Select(c => string.Create(CultureInfo.InvariantCulture, $"{c.Label} {c.Points:+0;-0}")));
}
