using System.Collections.Immutable;
using System.Data.Common;
using DapperLantern.App.Data;
using DapperLantern.App.Rights;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Leads;
using DapperLantern.Core.Search;
using NpgsqlTypes;

namespace DapperLantern.App.Search;

/// <summary>Something found.</summary>
/// <param name="Kind">lead, contact, account, deal or note.</param>
/// <param name="Id">Of what is found; of a note, of the lead or deal it is about.</param>
/// <param name="Opens">Where it is shown: lead or deal; null where it is shown nowhere yet.</param>
/// <param name="OpensId">Of that lead or deal.</param>
/// <param name="Detail">What tells it from others of the same name.</param>
public sealed record SearchHit(string Kind, Guid Id, string? Opens, Guid? OpensId, string Title, string Detail);

/// <summary>What was found, the best first.</summary>
/// <param name="Meant">Words looked for beside those that were typed, since nobody has those.</param>
public sealed record SearchView(IReadOnlyList<SearchHit> Hits, IReadOnlyList<string> Meant);

/// <summary>
/// Searches everything for words, numbers of leads and telephone numbers. Words are found as they are or as the beginning of longer ones by an index over words; where that finds
/// little, words that look alike and stand in some name are looked for too.
/// </summary>
public sealed class SearchQueries
{
    private const int Most = 12;
    private const int MostRanked = 200;
    private const int Few = 3;
    private const int MostMeant = 3;

    /// <param name="scope">What the reader sees; contact data that is kept from them finds nothing.</param>
    /// <param name="deals">True where the reader may see accounts, contacts and deals.</param>
    public async Task<SearchView> Find(LanternDb db, SearchAsk ask, RecordScope scope, bool deals)
    {
        if (ask.IsEmpty)
            return new SearchView([], []);
        // A whole address is somebody's; its words are many people's.
        if (ask.Email is not null && await LookByMail(db, ask, scope, deals) is { Count: > 0 } known)
            return new SearchView(Best(known), []);
        var plain = await Look(db, ask, [.. ask.Words.Select(w => ImmutableArray<string>.Empty)], scope, deals);
        if (plain.Count == 0 && ask.Digits is { } digits)
            return new SearchView(Best(await LookByMiddle(db, ask, digits, scope, deals)), []);
        if (plain.Count >= Few || ask.Digits is not null)
            return new SearchView(Best(plain), []);
        var meant = await Meant(db, ask);
        if (meant.All(m => m.IsEmpty))
            return new SearchView(Best(plain), []);
        var more = await Look(db, ask, meant, scope, deals);
        // Words stand in addresses, too: what found nothing is not told.
        return new SearchView(Best([.. plain, .. more]), more.Count == 0 ? [] : [.. meant.SelectMany(m => m)]);
    }

    private static List<SearchHit> Best(List<(SearchHit Hit, double Rank)> found) =>
        [
            .. found
                .GroupBy(f => (f.Hit.Kind, f.Hit.Id))
                .Select(g => g.MaxBy(f => f.Rank))
                .OrderByDescending(f => f.Rank)
                .ThenBy(f => f.Hit.Title, StringComparer.Ordinal)
                .Take(Most)
                .Select(f => f.Hit),
        ];

    private static Task<List<(SearchHit, double)>> LookByMail(LanternDb db, SearchAsk ask, RecordScope scope, bool deals) =>
        LookBy(db, ask, scope, $"l.email = {ask.Email}", deals ? (SqlText)$"c.email = {ask.Email}" : null);

    // Digits that stand anywhere in a number: somebody read them off a display, or left the end away.
    private static Task<List<(SearchHit, double)>> LookByMiddle(LanternDb db, SearchAsk ask, string digits, RecordScope scope, bool deals) =>
        LookBy(
            db,
            ask,
            scope,
            $"coalesce(l.phone, '') || ' ' || coalesce(l.mobile, '') like '%' || {digits} || '%'",
            deals ? (SqlText)$"c.phone like '%' || {digits} || '%'" : null
        );

    // By contact data: leads, and contacts where a condition is given.
    private static Task<List<(SearchHit, double)>> LookBy(LanternDb db, SearchAsk ask, RecordScope scope, SqlText leads, SqlText? contacts)
    {
        List<SqlText> statements = [$"{LeadColumns(scope):sql} and {scope.ShowsContactData("lead", "l"):sql} and {leads:sql} limit {Most}"];
        if (contacts is not null)
            statements.Add($"{ContactColumns(scope):sql} and {scope.ShowsContactData("contact", "c"):sql} and {contacts:sql} limit {Most}");
        return Read(db, statements, ask);
    }

    private static Task<List<(SearchHit, double)>> Look(LanternDb db, SearchAsk ask, IReadOnlyList<ImmutableArray<string>> meant, RecordScope scope, bool deals)
    {
        var words = QueryOf(ask, meant);
        List<SqlText> statements = [LeadsByWords(words, scope), NotesByWords(words, scope)];
        if (ask.Number is { } number)
            statements.Add($"{LeadColumns(scope):sql} and l.number = {number}");
        if (ask.Digits is { } digits)
            statements.AddRange(ByPhone(digits, ask.IsInternational, scope, deals));
        if (deals)
            statements.AddRange(ContactsByWords(words, scope), AccountsByWords(words, scope), DealsByWords(words, scope));
        return Read(db, statements, ask);
    }

    private static IEnumerable<SqlText> ByPhone(string number, bool international, RecordScope scope, bool deals)
    {
        var shown = scope.ShowsContactData("lead", "l");
        foreach (var column in new[] { "phone", "mobile" })
            yield return international
                ? (SqlText)$"{LeadColumns(scope):sql} and {shown:sql} and l.{column:sql} >= '+' || {number} and l.{column:sql} < '+' || {number} || ':' limit {Most}"
                : $"{LeadColumns(scope):sql} and {shown:sql} and reverse(l.{column:sql}) like reverse({number}) || '%' limit {Most}";
        if (deals)
            yield return $"{ContactColumns(scope):sql} and {scope.ShowsContactData("contact", "c"):sql} and reverse(c.phone) like reverse({number}) || '%' limit {Most}";
    }

    // Every word must be there: as it is, as a beginning, or as one that may be meant. Words are letters and digits only, so nothing in them is an operator.
    private static string QueryOf(SearchAsk ask, IReadOnlyList<ImmutableArray<string>> meant) =>
        string.Join(" & ", ask.Words.Select((w, i) => $"({string.Join(" | ", meant[i].Select(m => $"'{m}'").Prepend(w.Length > 1 ? $"'{w}':*" : $"'{w}'"))})"));

    private static async Task<List<ImmutableArray<string>>> Meant(LanternDb db, SearchAsk ask)
    {
        var words = ask.Words.Where(w => SearchRank.MostSlips(w) > 0).ToArray();
        var near = (
            await db.Rows<NearWord>(
                $"""
                select q as typed, w.word, w.count from unnest({words}) q
                cross join lateral (select word, count from search_word where word % q and abs(length(word) - length(q)) <= 2 order by similarity(word, q) desc limit 20) w
                """
            )
        ).ToLookup(n => n.Typed, n => (n.Word, n.Count));
        return [.. ask.Words.Select(w => SearchRank.Meant(w, near[w], MostMeant))];
    }

    // Columns of every statement: kind, id, where it opens, its id, title, detail, and the texts it was searched by.
    // Each ends within its condition.
    private static SqlText LeadColumns(RecordScope scope) =>
        $"""
            select 'lead', l.id, 'lead', l.id, {scope.LeadName("l"):sql},
              concat_ws(' · ', l.number::text, nullif(l.company, ''), l.city, l.state), concat_ws(' ', l.first_name, l.last_name), l.company,
              case when {scope.ShowsContactData("lead", "l"):sql} then l.email end, l.number::text from lead l where {scope.Sees("lead", "l"):sql}
            """;

    // The index has the words of addresses, too; who is found by those alone is left out where they are kept from the reader.
    private static SqlText LeadsByWords(string words, RecordScope scope)
    {
        SqlText byName = scope.HidesContactData
            ? $"and ({scope.ShowsContactData("lead", "l"):sql} or search_words(l.first_name, l.last_name, l.company, null) @@ {words}::tsquery)"
            : (SqlText)$"";
        return $"{LeadColumns(scope):sql} and search_words(l.first_name, l.last_name, l.company, l.email) @@ {words}::tsquery {byName:sql} limit {MostRanked}";
    }

    private static SqlText NotesByWords(string words, RecordScope scope) =>
        $"""
            select 'note', s.id, case when s.lead_id is not null then 'lead' when s.deal_id is not null then 'deal' end, coalesce(s.lead_id, s.deal_id),
              left(s.text, 120), concat_ws(' · ', to_char(s.at, 'YYYY-MM-DD'), coalesce(nullif(trim(concat_ws(' ', l.first_name, l.last_name)), ''), l.company)),
              null, null, null, left(s.text, 2000)
            from story_entry s left join lead l on l.id = s.lead_id
            where s.kind in ('note', 'call', 'call_missed', 'mail', 'message', 'meeting') and s.removed_at is null and search_note(s.text) @@ {words}::tsquery
              and {scope.SeesTied("lead", "s.lead_id"):sql} and {scope.SeesTied("deal", "s.deal_id"):sql} and {scope.SeesTied("contact", "s.contact_id"):sql}
              and {scope.SeesTied("account", "s.account_id"):sql} limit {MostRanked}
            """;

    private static SqlText ContactColumns(RecordScope scope)
    {
        var address = (SqlText)$"case when {scope.ShowsContactData("contact", "c"):sql} then c.email end";
        return $"""
            select 'contact', c.id, 'contact', c.id,
              {scope.ContactName("c"):sql}, concat_ws(' · ', {scope.NameBeside("account", "a"):sql}, {address:sql}), {scope.ContactName("c"):sql}, null, {address:sql}, null
            from contact c left join account a on a.id = c.account_id where {scope.Sees("contact", "c"):sql}
            """;
    }

    private static SqlText ContactsByWords(string words, RecordScope scope)
    {
        SqlText byName = scope.HidesContactData
            ? $"and ({scope.ShowsContactData("contact", "c"):sql} or search_words({scope.ContactName("c"):sql}, null, null, null) @@ {words}::tsquery)"
            : (SqlText)$"";
        return $"{ContactColumns(scope):sql} and search_words(c.name, c.email, null, null) @@ {words}::tsquery {byName:sql} limit {MostRanked}";
    }

    private static SqlText AccountsByWords(string words, RecordScope scope) =>
        $"""
            select 'account', a.id, 'account', a.id, a.name, coalesce(a.domain, ''), a.name, a.domain, null, null
            from account a where search_words(a.name, a.domain, null, null) @@ {words}::tsquery and {scope.Sees("account", "a"):sql} limit {MostRanked}
            """;

    private static SqlText DealsByWords(string words, RecordScope scope) =>
        $"""
            select 'deal', d.id, 'deal', d.id, d.name, coalesce({scope.NameBeside("account", "a"):sql}, ''), d.name, null, null, null
            from deal d left join account a on a.id = d.account_id where search_words(d.name, null, null, null) @@ {words}::tsquery
              and {scope.Sees("deal", "d"):sql} limit {MostRanked}
            """;

    private static async Task<List<(SearchHit, double)>> Read(LanternDb db, List<SqlText> statements, SearchAsk ask)
    {
        var found = new List<(SearchHit, double)>();
        await using var row = await db.Together(statements);
        do while (await row.ReadAsync())
            found.Add(Read(row, ask));
        while (await row.NextResultAsync());
        return found;
    }

    private const double NumberMet = 2;

    private static (SearchHit, double) Read(DbDataReader row, SearchAsk ask)
    {
        var kind = row.GetString(0);
        var detail = row.GetString(5);
        if (kind == "lead")
            detail = Shown(detail);
        var hit = new SearchHit(kind, row.GetGuid(1), Text(2), row.IsDBNull(3) ? null : row.GetGuid(3), row.GetString(4), detail);
        var rank = ask.Number is { } number && Text(9) == $"{number}" ? NumberMet : SearchRank.Of(ask, Text(6), Text(7), Text(8), kind == "note" ? Text(9) : null);
        return (hit, rank);

        string? Text(int i) => row.IsDBNull(i) ? null : row.GetString(i);
    }

    // The state at the end by its label.
    private static string Shown(string detail)
    {
        var cut = detail.LastIndexOf(" · ", StringComparison.Ordinal);
        var state = detail[(cut + 3)..];
        return LeadState.Choices.FirstOrDefault(c => c.Key == state) is { } choice ? $"{detail[..cut]} · {choice.Label.ToLowerInvariant()}" : detail;
    }

    private sealed record NearWord(string Typed, string Word, int Count);
}
