using DapperLantern.App.Data;

namespace DapperLantern.App.Search;

/// <summary>A word that stands in names of people and companies, for finding what was meant by one with a slip.</summary>
public sealed class SearchWord
{
    public string Word { get; set; } = "";

    /// <summary>Records it stands in.</summary>
    public int Count { get; set; }
}

/// <summary>
/// Keeps the words that names are made of. Those of leads that came in are added within seconds, so that somebody is guessed who rang just now; now and then all are counted anew.
/// </summary>
public sealed class SearchWords(LanternDbFactory databases, TimeProvider clock, ILogger<SearchWords> log) : Worker(log)
{
    private const string Entry = "search-words";
    private const int Patience = 900;

    private static readonly TimeSpan Pause = TimeSpan.FromSeconds(10);

    private const string NamesOfLeads = "select search_words(first_name, last_name, company, null) from lead";

    private static SqlText Names =>
        $"""
            {NamesOfLeads:sql} union all select search_words(name, null, null, null) from contact
            union all select search_words(name, null, null, null) from account
            """;

    // By hash: the database's own ts_stat keeps words in a tree that is not balanced, and takes hours over a million names that came in the order of the alphabet.
    private static SqlText Counts(SqlText names) =>
        $"""
            select word, count(*)::int from ({names:sql}) n(words) cross join unnest(tsvector_to_array(n.words)) word
            where length(word) between 3 and 40 and word !~ '^[0-9]+$' group by word
            """;

    protected override Task Work(CancellationToken stop) =>
        Every(
            Pause,
            async cancel =>
            {
                await using var db = await databases.Open(cancel);
                if (await AreStale(db, clock.UtcNow()))
                    await Count(db, clock.UtcNow(), cancel);
                else
                    await Add(db, cancel);
            },
            stop,
            atOnce: true
        );

    // A fifth more leads, or a day.
    private static async Task<bool> AreStale(LanternDb db, DateTime now) =>
        await SetupEntries.Read<Counted>(db, Entry) is not { Last: > 0 } counted || now - counted.At > TimeSpan.FromDays(1) || await Leads(db) > 100 + counted.Leads * 1.2;

    private static Task<int> Leads(LanternDb db) => db.One<int>($"""select greatest(reltuples, 0)::int as "Value" from pg_class where oid = 'lead'::regclass""");

    /// <summary>Counts the words anew. One process does it at a time; who searches meanwhile finds the words as they were.</summary>
    public static async Task Count(LanternDb db, DateTime now, CancellationToken cancel = default)
    {
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        await db.LockUntilEnd(Entry);
        using var patient = db.Patient(Patience);
        await db.Run($"delete from search_word; insert into search_word (word, count) {Counts(Names):sql}");
        await SetupEntries.Save(db, Entry, Json.Write(new Counted(now, await Leads(db), await Last(db))));
        await transaction.CommitAsync(cancel);
    }

    /// <summary>Adds the words of the leads that came since they were counted last.</summary>
    public static async Task Add(LanternDb db, CancellationToken cancel = default)
    {
        if (await SetupEntries.Read<Counted>(db, Entry) is not { } seen || await Last(db) == seen.Last)
            return;
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        await db.LockUntilEnd(Entry);
        // Another process may have been at it meanwhile.
        var (counted, last) = ((await SetupEntries.Read<Counted>(db, Entry))!, await Last(db));
        using var patient = db.Patient(Patience);
        SqlText names = $"{NamesOfLeads:sql} where number > {counted.Last} and number <= {last}";
        await db.Run(
            $"""
            insert into search_word as w (word, count) {Counts(names):sql} order by word
            on conflict (word) do update set count = w.count + excluded.count
            """
        );
        await SetupEntries.Save(db, Entry, Json.Write(counted with { Last = last }));
        await transaction.CommitAsync(cancel);
    }

    // The number of the newest lead. A lead whose number is given and that is kept later is counted when all are.
    private static Task<int> Last(LanternDb db) => db.One<int>($"""select coalesce(max(number), 0) as "Value" from lead""");

    /// <param name="Leads">About so many leads there were.</param>
    /// <param name="Last">The number of the newest lead whose words are in.</param>
    private sealed record Counted(DateTime At, int Leads, int Last = 0);
}
