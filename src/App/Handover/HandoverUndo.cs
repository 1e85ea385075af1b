using Dapper;
using DapperLantern.App.Data;
using DapperLantern.App.Matching;
using DapperLantern.App.Setup;
using Microsoft.AspNetCore.Http.HttpResults;
using Npgsql;

namespace DapperLantern.App.Handover;

/// <summary>Takes a handover back: removes what it made, restores what it changed, makes the lead qualified again.</summary>
public sealed class HandoverUndo(Installation installation, TimeProvider clock)
{
    /// <param name="ownOnly">True when the lead must be the person's own.</param>
    /// <summary>Null when done; otherwise why not, and nothing is written.</summary>
    public async Task<ProblemHttpResult?> Run(NpgsqlConnection connection, Guid lead, Guid by, bool ownOnly)
    {
        var done = await connection.QuerySingleOrDefaultAsync<HandoverRow>("select * from handover where lead_id = @lead and taken_back_at is null for update", new { lead });
        if (done is null)
            return Trouble.Conflict("not-handed-over", "This lead is not handed over.");
        var owner = await connection.QuerySingleAsync<Guid?>("select owner_id from lead where id = @lead", new { lead });
        if (ownOnly && owner != by)
            return Trouble.NotYours();
        if (await connection.QuerySingleAsync<bool>("select exists (select 1 from story_entry where deal_id = @DealId and at > @At)", done))
            return Trouble.Conflict("worked-on", "The deal has been worked on since. Close it as lost instead of taking the handover back.");
        await connection.ExecuteAsync(
            """
            update story_entry set contact_id = null, account_id = null, deal_id = null where lead_id = @LeadId;
            update task set deal_id = null, contact_id = null where lead_id = @LeadId;
            delete from deal where id = @DealId;
            update contact set facts = @ContactBefore::jsonb where id = @ContactId and @ContactBefore is not null;
            update account set facts = @AccountBefore::jsonb where id = @AccountId and @AccountBefore is not null;
            delete from contact where id = @ContactId and @MadeContact and not exists (select 1 from deal where contact_id = @ContactId);
            delete from account where id = @AccountId and @MadeAccount and not exists (select 1 from deal where account_id = @AccountId) and not exists (select 1 from contact where account_id = @AccountId);
            update handover set taken_back_at = @now where id = @Id;
            update lead set state = 'qualified', version = version + 1 where id = @LeadId;
            insert into story_entry (id, lead_id, at, kind, text, person_id) values (gen_random_uuid(), @LeadId, @now, 'taken_back', 'Handover taken back', @person);
            """,
            new
            {
                done.Id,
                done.LeadId,
                done.DealId,
                done.ContactId,
                done.AccountId,
                done.ContactBefore,
                done.AccountBefore,
                done.MadeContact,
                done.MadeAccount,
                now = clock.UtcNow(),
                person = by,
            }
        );
        await MatchKeys.WriteContacts(connection, [done.ContactId], installation.Catalogue);
        await TwinHunt.Ask(connection, "lead", [done.LeadId]);
        return null;
    }
}
