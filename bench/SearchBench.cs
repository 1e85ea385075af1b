using Dapper;
using DapperLantern.App.Data;
using DapperLantern.App.Rights;
using DapperLantern.App.Search;
using DapperLantern.Core.Search;
using DapperLantern.Tests.Shared;
using Microsoft.AspNetCore.Builder;
using Microsoft.Extensions.DependencyInjection;
using Npgsql;

namespace DapperLantern.Bench;

/// <summary>
/// The search box over a million leads with names as uneven as people's (a few of very many, most of few) and a note for every tenth: everything searched and ranked as the server
/// does it, beside one bare statement that finds the first twelve leads with the same words.
/// </summary>
internal static class SearchBench
{
    private const int Warm = 5;
    private const int Turns = 60;

    public static async Task Run(WebApplication app, int leads)
    {
        await using var scope = app.Services.CreateAsyncScope();
        var connection = await scope.ServiceProvider.GetRequiredService<LanternDb>().Connection();
        Measure.Say("base of leads with names, and notes, by SQL", leads, await Measure.Time(() => Base(connection, leads)), "leads");
        var counting = await Measure.Time(() => SearchWords.Count(connection.Over(), DateTime.UtcNow));
        var words = await connection.QuerySingleAsync<int>("select count(*)::int from search_word");
        Console.WriteLine($"counting the words of names: {counting:0.0} s, {words:#,0} words");
        await connection.ExecuteAsync("vacuum analyze", commandTimeout: 3600, commandType: System.Data.CommandType.Text);
        var (first, last, company, email, phone, number) = await connection.QueryFirstAsync<(string, string, string, string, string, int)>(
            "select first_name, last_name, company, email, phone, number from lead where source = 'list-circular' and length(last_name) >= 9 order by number desc limit 1"
        );
        var common = await connection.QueryFirstAsync<string>("select last_name from lead where source = 'list-circular' group by 1 order by count(*) desc limit 1");
        var queries = app.Services.GetRequiredService<SearchQueries>();
        (string What, string Text)[] asked =
        [
            ("first and last name", $"{first} {last}"),
            ("the commonest last name", common),
            ("three letters of it", common[..3]),
            ("company", company),
            ("mail address", email),
            ("telephone, as dialled at home", "0" + phone[3..]),
            ("number of the lead", $"L-{number}"),
            ("a slip in the last name", last[..2] + last[3..]),
            ("a slip in both names", $"{first[..1]}{first[2..]} {last[..3]}{last[4]}{last[3]}{last[5..]}"),
            ("words of a note", "turbidity " + number / 10 * 10),
            ("nobody at all", "qqqzzz xxwwyy"),
        ];
        foreach (var (what, text) in asked)
            await One(queries, connection, what, text);
    }

    private static async Task One(SearchQueries queries, NpgsqlConnection connection, string what, string text)
    {
        var ask = SearchAsk.Read(text);
        var bare = string.Join(" & ", ask.Words.Select(w => $"'{w}':*"));
        var (ours, plain, found) = (new List<double>(), new List<double>(), 0);
        for (var i = 0; i < Warm + Turns; i++)
        {
            var taken = await Measure.Time(async () => found = (await queries.Find(connection.Over(), ask, RecordScope.Everything, true)).Hits.Count);
            var limit = await Measure.Time(async () =>
                await connection.QueryAsync<Guid>("select id from lead where search_words(first_name, last_name, company, email) @@ @bare::tsquery limit 12", new { bare })
            );
            if (i < Warm)
                continue;
            ours.Add(taken * 1000);
            plain.Add(limit * 1000);
        }
        Measure.Require(found > 0 || what.StartsWith("nobody", StringComparison.Ordinal), $"nothing found for {what}: {text}");
        Console.WriteLine(
            $"{what} (“{text}”): {found} found; median {Measure.At(ours, 0.5):0.0} ms, p95 {Measure.At(ours, 0.95):0.0} ms; one bare statement {Measure.At(plain, 0.5):0.0} and {Measure.At(plain, 0.95):0.0} ms"
        );
    }

    // Names of syllables; the cube of a chance makes few of them common and most rare.
    private static async Task Base(NpgsqlConnection connection, int leads)
    {
        await connection.ExecuteAsync(
            """
            create function pg_temp.word(parts int, common float8) returns text language sql volatile as $fn$
              select string_agg((array['an','be','cor','da','el','fin','gar','hol','is','jor','ka','lun','mar','nes','ol','per','quil','ro','sten','tor','ul','van','wes','yl','zar','bri','dun','fal','gre','kin','lar','mo'])
                [1 + floor(power(random(), common) * 32)::int], '') from generate_series(1, parts)
            $fn$;
            insert into lead (id, first_name, last_name, company, company_key, email, phone, city, country, state, source, fit, fit_low, fit_high, engagement, next_move, created_at, last_touch_at)
            select gen_random_uuid(), initcap(f), initcap(n), initcap(c) || (array[' Ltd', ' AS', ' GmbH', ' Water', ' Marine'])[1 + i % 5], c, f || '.' || n || i % 97 || '@' || c || '.example',
              '+47' || lpad((20000000 + i)::text, 8, '0'), 'Oldhaven', 'NO', 'new', 'list-circular', 0, 0, 100, 0, 'park', now() - i * interval '1 second', now()
            from (select i, pg_temp.word(2, 3 + i * 0) as f, pg_temp.word(3, 2 + i * 0) as n, pg_temp.word(3, 1 + i * 0) as c from generate_series(1, @leads) i) x;
            insert into story_entry (id, lead_id, at, kind, text)
              select gen_random_uuid(), id, now(), 'note', 'Asked about the turbidity of basin ' || number || ', wants a visit before the spring.' from lead where number % 10 = 0;
            """,
            new { leads },
            commandTimeout: 3600
        );
    }
}
