using Dapper;
using DapperLantern.App.Data;
using DapperLantern.App.Leads;
using DapperLantern.App.Routing;
using DapperLantern.App.Setup;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Intake;
using DapperLantern.Core.Matching;
using DapperLantern.Core.Scoring;
using Npgsql;

namespace DapperLantern.App.Intake;

/// <summary>Takes a sifted delivery in: one transaction, in batches, with the same admission every other way in uses.</summary>
public sealed class TakeIn(Installation installation, Admission admission, LeadRescore rescore)
{
    private const int BatchRows = 2000;

    /// <summary>Takes the delivery in and returns the final counts, which may differ from the sieve's where somebody came in meanwhile.</summary>
    public async Task<SiftCounts> Run(NpgsqlConnection connection, Delivery delivery, DateTime now, CancellationToken cancel)
    {
        await Admission.Lock(connection);
        var source = await connection.QuerySingleAsync<SourceRow>("select * from source where key = @Source", new { delivery.Source });
        var desk = await RoutingDesk.Open(connection, now);
        for (var last = 0; ; )
        {
            var rows = (await Rows(connection, delivery.Id, last)).ToList();
            if (rows.Count == 0)
                break;
            last = rows[^1].RowNumber;
            await Recheck(connection, rows);
            await TakeNew(connection, rows, delivery, source, desk, now, cancel);
            await TakeAdditions(connection, rows, delivery, source, now);
        }
        await desk.Close(connection);
        return await Finish(connection, delivery.Id, now);
    }

    private static Task<IEnumerable<Arrival>> Rows(NpgsqlConnection connection, Guid delivery, int after) =>
        connection.QueryAsync<Arrival>(
            "select * from arrival where delivery_id = @delivery and row_number > @after and outcome <> 'aside' order by row_number limit @BatchRows",
            new
            {
                delivery,
                after,
                BatchRows,
            }
        );

    // Between sifting and taking in, the same person may have come in another way.
    private async Task Recheck(NpgsqlConnection connection, List<Arrival> rows)
    {
        var fresh = rows.Where(r => r.Outcome == SiftOutcome.New).Select(r => (Row: r, Facts: Facts(r))).ToList();
        var known = await KnownPeople.Load(connection, fresh.Select(f => f.Facts));
        foreach (var (row, facts) in fresh)
            if (known.Find(Identity.Of(facts)) is { } lead)
                (row.Outcome, row.LeadId, row.Reason) = (SiftOutcome.Adds, lead.Lead, $"Already lead {lead.Name}: {lead.Why}.");
        var changed = fresh.Select(f => f.Row).Where(r => r.Outcome == SiftOutcome.Adds);
        await connection.ExecuteAsync("update arrival set outcome = @Outcome, reason = @Reason where delivery_id = @DeliveryId and row_number = @RowNumber", changed);
    }

    private async Task TakeNew(NpgsqlConnection connection, List<Arrival> rows, Delivery delivery, SourceRow source, RoutingDesk desk, DateTime now, CancellationToken cancel)
    {
        var fresh = rows.Where(r => r.Outcome == SiftOutcome.New).ToList();
        foreach (var row in fresh)
            row.LeadId = Guid.CreateVersion7();
        var happened = new LeadEvent(source.EventKind, now.ToInstant(), source.Name);
        var newcomers = fresh.Select(r => new Newcomer(
            r.LeadId!.Value,
            Facts(r),
            source.Key,
            source.Campaign,
            delivery.Id,
            now,
            [happened],
            $"Came in through {source.Name}, row {r.RowNumber} of {delivery.FileName}"
        ));
        await admission.Admit(connection, [.. newcomers], desk, cancel);
        await connection.ExecuteAsync(
            "update arrival a set lead_id = x.lead from unnest(@numbers, @leads) as x(number, lead) where a.delivery_id = @id and a.row_number = x.number",
            new
            {
                id = delivery.Id,
                numbers = fresh.Select(r => r.RowNumber).ToArray(),
                leads = fresh.Select(r => r.LeadId!.Value).ToArray(),
            }
        );
    }

    private async Task TakeAdditions(NpgsqlConnection connection, List<Arrival> rows, Delivery delivery, SourceRow source, DateTime now)
    {
        foreach (var row in rows.Where(r => r.Outcome == SiftOutcome.Adds))
        {
            row.LeadId ??= await connection.QuerySingleOrDefaultAsync<Guid?>(
                "select lead_id from arrival where delivery_id = @DeliveryId and row_number = @SameAsRow",
                new { row.DeliveryId, row.SameAsRow }
            );
            if (row.LeadId is not { } lead)
                continue;
            var filled = await FillBlanksOf(connection, lead, Facts(row), source.Key);
            var added = filled.Count == 0 ? "nothing we did not know" : string.Join(", ", filled.Select(f => installation.Catalogue[f].Label.ToLowerInvariant()));
            await connection.ExecuteAsync(
                """
                update arrival set lead_id = @lead, filled = @filled::jsonb where delivery_id = @delivery and row_number = @RowNumber;
                insert into lead_event (id, lead_id, kind, at, detail, delivery_id) values (gen_random_uuid(), @lead, @EventKind, @now, @Name, @delivery);
                insert into story_entry (id, lead_id, at, kind, text, delivery_id) values (gen_random_uuid(), @lead, @now, 'added', @text, @delivery);
                """,
                new
                {
                    lead,
                    filled = Json.Write(filled),
                    delivery = delivery.Id,
                    row.RowNumber,
                    source.EventKind,
                    source.Name,
                    now,
                    text = $"Came in again through {source.Name}, row {row.RowNumber} of {delivery.FileName}. Added: {added}",
                }
            );
            await rescore.Run(connection, lead, now);
        }
    }

    private async Task<List<string>> FillBlanksOf(NpgsqlConnection connection, Guid lead, RecordValues incoming, string source)
    {
        var known = await LeadStore.Load(connection, lead, installation.Catalogue);
        if (known is null || known.Text("state") == Core.Leads.LeadState.HandedOver)
            return [];
        var additions = FillBlanks.Additions(known, incoming).ToList();
        await LeadStore.Write(connection, lead, additions, source);
        return [.. additions.Select(a => a.Field.Key)];
    }

    private static async Task<SiftCounts> Finish(NpgsqlConnection connection, Guid delivery, DateTime now)
    {
        var counts = await connection.QuerySingleAsync<SiftCounts>(
            """
            select count(*)::int as read, count(*) filter (where outcome = 'new')::int as new, count(*) filter (where outcome = 'adds')::int as adds,
                   count(*) filter (where outcome = 'aside')::int as aside from arrival where delivery_id = @delivery
            """,
            new { delivery }
        );
        await connection.ExecuteAsync(
            "update delivery set state = 'taken', taken_at = @now, rows_read = @Read, rows_new = @New, rows_adds = @Adds, rows_aside = @Aside where id = @delivery",
            new
            {
                delivery,
                now,
                counts.Read,
                counts.New,
                counts.Adds,
                counts.Aside,
            }
        );
        return counts;
    }

    private RecordValues Facts(Arrival row) => Json.ToRecord(row.Values, installation.Catalogue);
}
