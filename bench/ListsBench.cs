using System.Text.Json.Nodes;
using Dapper;
using DapperLantern.Bench.Fuzz;
using DapperLantern.Bench.Lists;
using Microsoft.AspNetCore.Builder;
using Microsoft.Extensions.DependencyInjection;
using Npgsql;

namespace DapperLantern.Bench;

/// <summary>What becomes of the values of other programs' lists, dropped as they are, nobody answering: right, asked about, missing, or another value without a word.</summary>
internal static class ListsBench
{
    private static readonly string[] Fields = ["name", "email", "phone", "company", "country", "city", "postal_code"];
    private static readonly string[] Tempting = ["phone", "mobile", "country", "region", "city", "postal_code", "first_name", "last_name", "full_name", "email", "company"];

    /// <param name="app">Started, with the demo.</param>
    public static async Task Run(WebApplication app, int count, int seed)
    {
        await using var connection = await app.Services.GetRequiredService<NpgsqlDataSource>().OpenConnectionAsync();
        using var http = await Served.SignIn(Served.Address(app), "ingrid.brekke", TimeSpan.FromSeconds(100));
        var tally = new Dictionary<string, int[]>();
        var (refused, lost, made, rows, foreign, falsely, named, unnamed) = (0, 0, 0, 0, 0, 0, 0, 0);
        var (examples, missed) = (new List<string>(), new Dictionary<string, int>());
        for (var number = 0; number < count; number++)
        {
            var list = ListMaker.Make(seed, number);
            rows += list.Rows.Count;
            if (await Drop(http, list) is not { } id)
            {
                refused++;
                lost += list.Rows.Count;
                examples.Add($"{list.Name} ({list.How}): refused");
                continue;
            }
            var targets = JsonNode.Parse(await connection.QuerySingleAsync<string>("select plan::text from import where id = @id", new { id }))!["columns"]!
                .AsArray()
                .ToDictionary(c => (int)c!["index"]!, c => (string?)c!["target"]);
            for (var c = 0; c < list.Columns.Count; c++)
            {
                var target = targets.GetValueOrDefault(c);
                if (list.Columns[c] is null or "note")
                {
                    foreign++;
                    if (target is not null && Tempting.Contains(target))
                    {
                        falsely++;
                        examples.Add($"{list.Name} ({list.How}): column {c}, {list.Columns[c] ?? "nothing of ours"}, became {target}");
                    }
                }
                else if (target == list.Columns[c])
                    named++;
                else
                {
                    unnamed++;
                    var heading = $"{list.Headings[c]} ({list.How[..2]}) {target ?? "nothing"}";
                    missed[heading] = missed.GetValueOrDefault(heading) + 1;
                }
            }
            var arrivals = (
                await connection.QueryAsync<(string Cells, string Values, string? Problems, string Outcome)>(
                    "select array_to_string(cells, E'\\x1f') as cells, values::text as values, problems::text as problems, outcome from arrival where import_id = @id order by row_number",
                    new { id }
                )
            ).ToList();
            var met = new HashSet<int>();
            foreach (var row in list.Rows)
            {
                var at = arrivals.FindIndex(a => a.Cells.Contains(row.Mark, StringComparison.OrdinalIgnoreCase));
                if (at < 0)
                {
                    lost++;
                    continue;
                }
                met.Add(at);
                foreach (var field in Fields)
                    if (Judge(field, row, arrivals[at].Values, arrivals[at].Problems) is { } verdict)
                    {
                        (tally.TryGetValue(field, out var sums) ? sums : tally[field] = new int[4])[verdict.Of]++;
                        if (verdict.Of == 3 && examples.Count < 4000)
                            examples.Add($"{list.Name} ({list.How}): {field} {verdict.Words}");
                    }
            }
            made += arrivals.Where((a, i) => !met.Contains(i) && a.Outcome is "new" or "adds" or "contact").Count();
        }
        Console.WriteLine($"{count} lists, seed {seed}, {rows} rows: {refused} refused, {lost} rows lost, {made} leads made of what is none");
        Console.WriteLine($"columns of ours: {named} found, {unnamed} not or as another; of {foreign} that are nothing of ours {falsely} became a person's");
        foreach (var field in Fields.Where(tally.ContainsKey))
            Console.WriteLine($"{field}: right {tally[field][0]}, asked {tally[field][1]}, not read {tally[field][2]}, another value without a word {tally[field][3]}");
        Console.WriteLine($"headings not known: {string.Join("; ", missed.OrderByDescending(m => m.Value).Take(40).Select(m => $"{m.Key} {m.Value}"))}");
        foreach (var example in examples.OrderBy(e => e.GetHashCode(StringComparison.Ordinal)).Take(25))
            Console.WriteLine($"  {example}");
    }

    // 0 right, 1 asked about, 2 not read, 3 another value. Null where the list does not say the field and nothing was made of it.
    private static (int Of, string Words)? Judge(string field, TrueRow row, string values, string? problems)
    {
        var read = JsonNode.Parse(values)!.AsObject();
        string? Read(string key) => (string?)read[key];
        var (truth, got) =
            field == "name"
                ? ($"{row.Values["first_name"]} {row.Values["last_name"]}", $"{Read("first_name")} {Read("last_name")}".Trim() is { Length: > 0 } name ? name : Read("full_name"))
                : (row.Values.GetValueOrDefault(field), Read(field) ?? (field == "phone" ? Read("mobile") : null));
        // What follows from other facts, such as a country from a dialling code, is not in the list.
        if (truth is null && (got is null || field is "country" or "company" or "city"))
            return null;
        if (got is null)
            return (problems is not null && problems.Contains($"\"{(field == "name" ? "_name" : field)}\"", StringComparison.Ordinal) ? 1 : 2, "");
        // Half of a name is not another name; a number that is kept as it is written links nobody.
        return Same(truth, got) ? (0, "")
            : field == "name" && truth!.Split(' ').Any(p => Same(p, got)) ? (2, "")
            : field == "phone" && !got.Skip(1).All(char.IsAsciiDigit) ? (1, "")
            : (3, $"\u201c{truth ?? "nothing"}\u201d became \u201c{got}\u201d");
    }

    private static bool Same(string? a, string? b) => string.Equals(a?.Normalize(), b?.Normalize(), StringComparison.OrdinalIgnoreCase);

    private static async Task<Guid?> Drop(HttpClient http, MadeList list)
    {
        using var form = new MultipartFormDataContent { { new ByteArrayContent(list.Content), "file", list.Name } };
        using var answer = await http.PostAsync(new Uri("/api/imports", UriKind.Relative), form);
        if (!answer.IsSuccessStatusCode)
            return null;
        var id = Guid.Parse((string)JsonNode.Parse(await answer.Content.ReadAsStringAsync())!["import"]!["id"]!);
        for (var n = 0; n < 600; n++)
        {
            var state = (string)JsonNode.Parse(await http.GetStringAsync(new Uri($"/api/imports/{id}", UriKind.Relative)))!["import"]!["state"]!;
            if (state == "sifted")
                return id;
            await Task.Delay(20);
        }
        return null;
    }
}
