using Dapper;
using DapperLantern.App.Data;
using Npgsql;

namespace DapperLantern.App.Search;

/// <summary>A word that stands in names of people and companies, for finding what was meant by one with a slip.</summary>
public sealed class SearchWord
{
    public string Word { get; set; } = "";

    /// <summary>Records it stands in.</summary>
    public int Count { get; set; }
}

/// <summary>Keeps the words that names are made of. They are counted now and then: what came in since is found as it is written, only not yet guessed.</summary>
public sealed class SearchWords(NpgsqlDataSource source, TimeProvider clock, ILogger<SearchWords> log) : LastingService(log)
{
    private const string Entry = "search-words";
    private const int Patience = 900;

    private const string Names = """
        select search_words(first_name, last_name, company, null) from lead union all select search_words(name, null, null, null) from contact
        union all select search_words(name, null, null, null) from account
        """;

    protected override async Task Work(CancellationToken stop)
    {
        using var timer = new PeriodicTimer(TimeSpan.FromMinutes(10));
        do try
        {
            await using var connection = await source.OpenConnectionAsync(stop);
            if (await AreStale(connection, clock.UtcNow()))
                await Count(connection, clock.UtcNow(), stop);
        }
        catch (NpgsqlException e)
        {
            Log.LogWarning(e, "The words of names could not be counted; it is tried again");
        }
        while (await timer.WaitForNextTickAsync(stop));
    }

    // A fifth more leads, or a day.
    private static async Task<bool> AreStale(NpgsqlConnection connection, DateTime now)
    {
        var (at, leads) = await connection.QuerySingleOrDefaultAsync<(DateTime?, int)>(
            "select (body->>'at')::timestamptz, (body->>'leads')::int from setup_entry where key = @Entry",
            new { Entry }
        );
        return at is null || now - at > TimeSpan.FromDays(1) || await Leads(connection) > 100 + leads * 1.2;
    }

    private static Task<int> Leads(NpgsqlConnection connection) =>
        connection.QuerySingleAsync<int>("select greatest(reltuples, 0)::int from pg_class where oid = 'lead'::regclass");

    /// <summary>Counts the words anew. One process does it at a time; who searches meanwhile finds the words as they were.</summary>
    public static async Task Count(NpgsqlConnection connection, DateTime now, CancellationToken cancel = default)
    {
        await using var transaction = await connection.BeginTransactionAsync(cancel);
        await connection.ExecuteAsync("select pg_advisory_xact_lock(hashtext(@Entry))", new { Entry });
        await connection.ExecuteAsync(
            "delete from search_word; insert into search_word (word, count) select word, ndoc from ts_stat(@Names) where length(word) between 3 and 40 and word !~ '^[0-9]+$'",
            new { Names },
            commandTimeout: Patience
        );
        await SetupEntries.Keep(connection, Entry, Json.Write(new { at = now, leads = await Leads(connection) }));
        await transaction.CommitAsync(cancel);
    }
}
