using Dapper;
using DapperLantern.App.Data;
using DapperLantern.App.Leads;
using DapperLantern.App.Setup;
using Npgsql;

namespace DapperLantern.App.Intake;

/// <summary>What taking back did. <see cref="Left"/> counts leads that people worked on since, which stay.</summary>
public sealed record TakeBackResult(int Removed, int Restored, int Left);

/// <summary>Undoes a delivery: removes the leads it made, empties the blanks it filled, removes its events. Arrivals stay as they came.</summary>
public sealed class TakeBack(Installation installation, LeadRescore rescore)
{
    public async Task<TakeBackResult> Run(NpgsqlConnection connection, Guid delivery, DateTime now)
    {
        await Admission.Lock(connection);
        var left = await connection.QueryAsync<Guid>(
            """
            select l.id from lead l where l.delivery_id = @delivery and (l.state <> 'new' or exists (
              select 1 from story_entry s where s.lead_id = l.id and (s.delivery_id is null or s.delivery_id <> @delivery) and s.kind <> 'routed'))
            """,
            new { delivery }
        );
        var kept = left.ToArray();
        var removed = await Remove(connection, delivery, kept);
        var restored = await Restore(connection, delivery, kept, now);
        await connection.ExecuteAsync("update delivery set state = 'taken_back', taken_back_at = @now where id = @delivery", new { delivery, now });
        return new TakeBackResult(removed, restored, kept.Length);
    }

    private static async Task<int> Remove(NpgsqlConnection connection, Guid delivery, Guid[] kept)
    {
        var gone = (await connection.QueryAsync<Guid>("select id from lead where delivery_id = @delivery and id <> all(@kept)", new { delivery, kept })).ToArray();
        await connection.ExecuteAsync(
            """
            delete from routing_decision where lead_id = any(@gone);
            delete from task where lead_id = any(@gone);
            delete from story_entry where lead_id = any(@gone);
            delete from lead_event where lead_id = any(@gone);
            update arrival set lead_id = null where lead_id = any(@gone);
            delete from lead where id = any(@gone);
            """,
            new { gone }
        );
        return gone.Length;
    }

    private async Task<int> Restore(NpgsqlConnection connection, Guid delivery, Guid[] kept, DateTime now)
    {
        var rows = (
            await connection.QueryAsync<Arrival>(
                "select * from arrival where delivery_id = @delivery and outcome = 'adds' and lead_id is not null and lead_id <> all(@kept) order by row_number desc",
                new { delivery, kept }
            )
        ).ToList();
        foreach (var row in rows)
        {
            if (row.Filled is { } filled)
                await LeadStore.Empty(connection, row.LeadId!.Value, Json.Read<string[]>(filled), Json.ToRecord(row.Values, installation.Catalogue));
            await connection.ExecuteAsync(
                "delete from story_entry where lead_id = @LeadId and delivery_id = @delivery; delete from lead_event where lead_id = @LeadId and delivery_id = @delivery",
                new { row.LeadId, delivery }
            );
            await rescore.Run(connection, row.LeadId!.Value, now);
        }
        return rows.Count;
    }
}
