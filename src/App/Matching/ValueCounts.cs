using DapperLantern.App.Data;
using DapperLantern.App.Leads;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Matching;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Matching;

/// <summary>How common names, companies, places and numbers are among our leads; counted now and then, because a common name says less.</summary>
/// <param name="Leads">So many leads there were.</param>
/// <param name="RareLastName">A last name that is not among the shares is rarer than this.</param>
public sealed record ValueCounts(int Leads, DateTime At, IReadOnlyList<ShareOf> Shares, double RareLastName = 0)
{
    private const string Entry = "value-shares";
    private const int Patience = 600;

    // A value at least as common as one in a thousand and there ten times, a last name one in four thousand and five times; a number under three last names, as an office has.
    private const string Count = """
        select 'first_name' as comparison, first_name as value, count(*)::float8 / sum(count(*)) over () as share, count(*) as n from lead where first_name is not null group by 2
        union all select 'last_name', last_name, count(*)::float8 / sum(count(*)) over (), count(*) from lead where last_name is not null group by 2
        union all select 'organisation', company_key, count(*)::float8 / sum(count(*)) over (), count(*) from lead where company_key is not null group by 2
        union all select 'company', company_key, count(*)::float8 / sum(count(*)) over (), count(*) from lead where company_key is not null and first_name is null and last_name is null group by 2
        union all select 'place', city, count(*)::float8 / sum(count(*)) over (), count(*) from lead where city is not null group by 2
        """;

    /// <summary>The counts as they were kept last; null before they were ever made.</summary>
    public static Task<ValueCounts?> Load(LanternDb db) => SetupEntries.Read<ValueCounts>(db, Entry);

    /// <summary>True where so many leads came since that the counts no longer hold, or they are a week old.</summary>
    public static async Task<bool> AreStale(LanternDb db, DateTime now)
    {
        var kept = await Load(db);
        if (kept is null)
            return true;
        var leads = await db.One<int>($"""select greatest(reltuples, 0)::int as "Value" from pg_class where oid = 'lead'::regclass""");
        return now - kept.At > TimeSpan.FromDays(7) || leads > 1000 + kept.Leads * 1.2;
    }

    /// <summary>Counts and keeps.</summary>
    public static async Task Refresh(LanternDb db, DateTime now)
    {
        // Nobody waits for it: it leaves the other cores to those who do.
        await using var transaction = await db.Database.BeginTransactionAsync();
        await db.Run($"set local max_parallel_workers_per_gather = 0");
        var leads = await db.Set<Lead>().CountAsync();
        using var patient = db.Patient(Patience);
        var fewest = Math.Max(ValueShares.FewestOfLastName, leads / ValueShares.LastNamesOver);
        var common = await db.Rows<CommonValue>(
            $"select comparison, value, share from ({Count:sql}) c where n >= case comparison when 'last_name' then {fewest} else greatest(10, {leads} / 1000) end"
        );
        var numbers = await db.Rows<CommonNumber>(
            $"""
            select phone as number, count(*)::float8 / (select count(*) from lead) as share from lead
            where phone is not null group by phone having count(*) >= {Pairs.ManyNames} and count(distinct lower(last_name)) >= {Pairs.ManyNames}
            """
        );
        // Spellings that fall together are as common as they are together.
        var shares = common
            .Select(c => new ShareOf(c.Comparison, FormOf(c.Comparison, c.Value), c.Share))
            .Concat(numbers.Select(n => new ShareOf("phone", n.Number, n.Share)))
            .GroupBy(s => (s.Comparison, s.Value))
            .Select(g => new ShareOf(g.Key.Comparison, g.Key.Value, g.Sum(s => s.Share)));
        var counts = new ValueCounts(leads, now, [.. shares], Pairs.RareLastName(await db.One<int>($"""select count(last_name)::int as "Value" from lead""")));
        await SetupEntries.Save(db, Entry, Json.Write(counts));
        await transaction.CommitAsync();
    }

    private static string FormOf(string comparison, string value) => comparison is "organisation" or "company" ? value : NameForm.Of(Folding.Plain(value));

    public ValueShares ToShares() => new(Shares.ToDictionary(s => (s.Comparison, s.Value), s => s.Share), RareLastName);

    private sealed record CommonValue(string Comparison, string Value, double Share);

    private sealed record CommonNumber(string Number, double Share);
}
