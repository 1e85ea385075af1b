using Dapper;
using DapperLantern.App.Data;
using DapperLantern.App.Scoring;
using DapperLantern.App.Setup;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Handover;
using DapperLantern.Core.Routing;
using Npgsql;

namespace DapperLantern.App.Routing;

/// <summary>Plays the last leads that came in through a sheet. Reads only; nothing is written.</summary>
public sealed class RoutingTrials(Installation installation)
{
    public const int MostLeads = 100_000;

    private const int Batch = 5000;

    private static readonly string[] Scores = ["fit", "engagement", "next_move"];

    // What tells who owns something already, and whom a rule may pass over.
    private static readonly string[] Also = ["company", "website", "email", "last_name", "street", "postal_code", "country", "region", "language", .. Scores];

    /// <param name="last">How many of the last leads.</param>
    public async Task<ReplayResult> Run(NpgsqlConnection connection, RuleSheet sheet, RoutingDesk desk, int last, CancellationToken cancel)
    {
        var catalogue = installation.Catalogue;
        var rules = new LiveRules(default, 0, new Router(sheet, catalogue));
        var replay = new Replay(rules.Router, desk.State);
        var fields = rules.Asked.Concat(Also).Distinct().Select(catalogue.Find).OfType<FieldDefinition>().ToList();
        var leads = await Read(connection, fields, last, cancel);
        foreach (var batch in leads.Chunk(Batch))
            await Play(connection, replay, batch);
        return replay.Result();
    }

    private static async Task Play(NpgsqlConnection connection, Replay replay, ReplayLead[] batch)
    {
        var keys = batch.Select(l => StandingKeys.Of(l.Facts)).ToList();
        // Which leads of a company were open then is told by the play itself.
        var standing = new StandingOwners();
        await standing.Find(connection, keys, leads: false);
        for (var i = 0; i < batch.Length; i++)
            replay.Play(batch[i] with { Standing = standing.For(keys[i], batch[i].At.ToUtc()) });
    }

    private async Task<List<ReplayLead>> Read(NpgsqlConnection connection, List<FieldDefinition> fields, int last, CancellationToken cancel)
    {
        var columns = string.Concat(fields.Select(f => $", {(Scores.Contains(f.Key) ? $"l.{f.Key}" : ScoringStream.Column(f))}"));
        await using var command = new NpgsqlCommand(
            $"""
            select l.id, l.created_at, d.owner_id{columns}
              from (select * from lead order by created_at desc, id desc limit @last) l
              left join lateral (select owner_id from routing_decision d where d.lead_id = l.id order by d.at, d.id limit 1) d on true
             order by l.created_at, l.id
            """,
            connection
        );
        command.Parameters.AddWithValue("last", Math.Clamp(last, 1, MostLeads));
        var leads = new List<ReplayLead>();
        await using var row = await command.ExecuteReaderAsync(cancel);
        while (await row.ReadAsync(cancel))
        {
            var facts = new RecordValues(installation.Catalogue);
            for (var i = 0; i < fields.Count; i++)
                if (!row.IsDBNull(3 + i))
                    facts[fields[i].Ordinal] = ScoringStream.Value(row, 3 + i, fields[i]);
            leads.Add(new ReplayLead(row.GetGuid(0), facts, row.GetDateTime(1).ToInstant(), [], row.IsDBNull(2) ? null : row.GetGuid(2)));
        }
        return leads;
    }

    /// <summary>How many days an open lead stays open on average: those open over those that come in a day (Little 1961); 0 while none come in.</summary>
    public static async Task<double> DaysOpen(NpgsqlConnection connection, DateTime now) =>
        await connection.QuerySingleAsync<double>(
            """
            select coalesce((select sum(open) from rep_load)::float8 / nullif(count(*)::float8 / 90, 0), 0)
              from routing_decision where at > @since and moment = 'arrival' and owner_id is not null
            """,
            new { since = now.AddDays(-90) }
        );
}
