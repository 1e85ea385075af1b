using Dapper;
using DapperLantern.App.Data;
using DapperLantern.App.Leads;
using DapperLantern.App.Matching;
using DapperLantern.App.Routing;
using DapperLantern.App.Setup;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Handover;
using DapperLantern.Core.Leads;
using DapperLantern.Core.Matching;
using DapperLantern.Core.Routing;
using Microsoft.AspNetCore.Http.HttpResults;
using NodaTime;
using Npgsql;

namespace DapperLantern.App.Handover;

/// <summary>What a handover would do: the sheet, and what is already there.</summary>
public sealed record HandoverLook(Core.Handover.HandoverSheet Sheet, IReadOnlyList<FoundRecord> Accounts, IReadOnlyList<FoundRecord> Contacts, DateOnly Closes);

/// <summary>Looks at and does handovers.</summary>
public sealed class HandoverDesk(Installation installation, TimeProvider clock, Rerouting rerouting)
{
    private const int DaysToClose = 90;
    private const string UsualCurrency = "EUR";

    /// <summary>Lays the lead out against the chosen account and contact; by default those that are the same beyond doubt.</summary>
    public async Task<HandoverLook> Look(NpgsqlConnection connection, Guid lead, Guid? account, Guid? contact)
    {
        var record = (await LeadStore.Load(connection, lead, installation.Catalogue))!;
        var accounts = await Accounts(connection, record);
        var contacts = await Contacts(connection, record);
        var closes = DateOnly.FromDateTime(clock.UtcNow().AddDays(DaysToClose));
        var targets = new HandoverTargets(
            await Facts(connection, "contact", contact ?? contacts.FirstOrDefault(c => c.Same)?.Id),
            await Facts(connection, "account", account ?? accounts.FirstOrDefault(a => a.Same)?.Id)
        );
        return new HandoverLook(HandoverPlanner.Plan(record, targets, new YearMonth(closes.Year, closes.Month)), accounts, contacts, closes);
    }

    /// <summary>Does it in the caller's transaction, or says why not and has written nothing. The lead is locked and may be written.</summary>
    public async Task<ProblemHttpResult?> Do(NpgsqlConnection connection, Guid lead, HandoverOrder order, Guid person)
    {
        var (state, owner, source, campaign) = await connection.QuerySingleAsync<(string, Guid?, string, string?)>(
            "select state, owner_id, source, campaign from lead where id = @lead",
            new { lead }
        );
        if (state != LeadState.Qualified)
            return Trouble.Conflict("not-qualified", "Only a qualified lead can be handed over.");
        var stage = await connection.QueryFirstOrDefaultAsync<string>(
            "select key from stage where pipeline_key = @Pipeline and counts = 'open' order by position limit 1",
            new { order.Pipeline }
        );
        if (stage is null)
            return Trouble.Invalid("pipeline-unknown", "Choose the pipeline the deal goes into.", "pipeline");
        var look = await Look(connection, lead, order.AccountId, order.ContactId);
        if (await WhyNot(connection, look, order) is { } no)
            return no;

        var now = clock.UtcNow();
        var done = new HandoverRow
        {
            Id = Guid.CreateVersion7(),
            LeadId = lead,
            At = now,
            PersonId = person,
            DealId = Guid.CreateVersion7(),
            AccountId = look.Sheet.MakesAccount ? order.AccountId ?? Guid.CreateVersion7() : null,
            ContactId = order.ContactId ?? Guid.CreateVersion7(),
            MadeAccount = look.Sheet.MakesAccount && order.AccountId is null,
            MadeContact = order.ContactId is null,
        };
        owner = await rerouting.OwnerAt(connection, lead, RoutingMoment.Handover, now) ?? owner;
        var record = (await LeadStore.Load(connection, lead, installation.Catalogue))!;
        await WriteAccount(connection, done, look.Sheet, record, order, owner);
        await WriteContact(connection, done, look.Sheet, record, order, owner);
        await WriteDeal(connection, done, look.Sheet, order, stage, owner, source, campaign);
        await CarryAlong(connection, done, order.DealName);
        return null;
    }

    /// <summary>Does it as the sheet proposes, with an amount to be said later. In the caller's transaction, under <see cref="Admission.Lock"/>; or says why not and has written nothing.</summary>
    public async Task<ProblemHttpResult?> DoAsProposed(NpgsqlConnection connection, Guid lead, string pipeline, Guid person)
    {
        var look = await Look(connection, lead, null, null);
        var account = look.Sheet.MakesAccount ? look.Accounts.FirstOrDefault(a => a.Same)?.Id : null;
        var contact = look.Contacts.FirstOrDefault(c => c.Same)?.Id;
        return await Do(connection, lead, new HandoverOrder(account, false, contact, [], pipeline, look.Sheet.DealName, 0, UsualCurrency, look.Closes), person);
    }

    private static async Task<ProblemHttpResult?> WhyNot(NpgsqlConnection connection, HandoverLook look, HandoverOrder order)
    {
        if (order.AccountId is { } account && await connection.QuerySingleAsync<int>("select count(*)::int from account where id = @account", new { account }) == 0)
            return Trouble.Invalid("account-unknown", "The account chosen is no longer there.", "accountId");
        if (order.ContactId is { } contact && await connection.QuerySingleAsync<int>("select count(*)::int from contact where id = @contact", new { contact }) == 0)
            return Trouble.Invalid("contact-unknown", "The contact chosen is no longer there.", "contactId");
        if (order.AccountId is null && !order.NewAccount && look.Sheet.MakesAccount && look.Accounts.FirstOrDefault(a => a.Same) is { } same)
            return Trouble.Conflict("account-exists", $"There is already an account {same.Name}: {string.Join(", ", same.Evidence)}. Link it, or say that it is another one.");
        if (order.ContactId is null && look.Contacts.FirstOrDefault(c => c.Same) is { } person)
            return Trouble.Conflict("contact-exists", $"There is already a contact {person.Name}: {string.Join(", ", person.Evidence)}. Link it.");
        return null;
    }

    private async Task WriteAccount(NpgsqlConnection connection, HandoverRow done, Core.Handover.HandoverSheet sheet, RecordValues record, HandoverOrder order, Guid? owner)
    {
        if (done.AccountId is not { } id)
            return;
        var (before, facts) = await Merge(connection, "account", done.MadeAccount ? null : id, sheet, Landing.Account, order);
        done.AccountBefore = before;
        var organisation = Organisation.Of(record);
        await connection.ExecuteAsync(
            """
            insert into account (id, name, company_key, domain, country, owner_id, created_at, facts)
            values (@id, @name, @key, nullif(@Domain, ''), nullif(@Country, ''), @owner, @At, @facts::jsonb)
            on conflict (id) do update set facts = excluded.facts, domain = coalesce(account.domain, excluded.domain), country = coalesce(account.country, excluded.country)
            """,
            new
            {
                id,
                name = facts.GetValueOrDefault("company") ?? record.Text("company"),
                key = organisation.Name,
                organisation.Domain,
                organisation.Country,
                owner,
                done.At,
                facts = Json.Write(facts),
            }
        );
    }

    private async Task WriteContact(NpgsqlConnection connection, HandoverRow done, Core.Handover.HandoverSheet sheet, RecordValues record, HandoverOrder order, Guid? owner)
    {
        var (before, facts) = await Merge(connection, "contact", done.MadeContact ? null : done.ContactId, sheet, Landing.Contact, order);
        done.ContactBefore = before;
        var person = $"{facts.GetValueOrDefault("first_name")} {facts.GetValueOrDefault("last_name")}".Trim();
        await connection.ExecuteAsync(
            """
            insert into contact (id, account_id, name, email, phone, owner_id, created_at, facts) values (@ContactId, @AccountId, @name, @email, @phone, @owner, @At, @facts::jsonb)
            on conflict (id) do update set facts = excluded.facts, name = excluded.name, email = coalesce(contact.email, excluded.email), phone = coalesce(contact.phone, excluded.phone),
              account_id = coalesce(contact.account_id, excluded.account_id)
            """,
            new
            {
                done.ContactId,
                done.AccountId,
                name = person.Length > 0 ? person : LeadRecord.NameOf(record),
                email = facts.GetValueOrDefault("email"),
                phone = facts.GetValueOrDefault("phone"),
                owner,
                done.At,
                facts = Json.Write(facts),
            }
        );
        await MatchKeys.WriteContacts(connection, [done.ContactId], installation.Catalogue);
    }

    // Blanks are filled; where both say something, ours stays unless the person took the lead's.
    private static async Task<(string? Before, Dictionary<string, string> Facts)> Merge(
        NpgsqlConnection connection,
        string table,
        Guid? existing,
        Core.Handover.HandoverSheet sheet,
        Landing on,
        HandoverOrder order
    )
    {
        var before = existing is { } id ? await connection.QuerySingleAsync<string>($"select facts::text from {table} where id = @id for update", new { id }) : null;
        var facts = before is null ? [] : Json.Read<Dictionary<string, string>>(before);
        foreach (var line in sheet.Lines.Where(l => l.On == on))
            if (!facts.ContainsKey(line.Field) || order.Take.Contains(line.Field))
                facts[line.Field] = line.Stored;
        return (before, facts);
    }

    private static Task WriteDeal(
        NpgsqlConnection connection,
        HandoverRow done,
        Core.Handover.HandoverSheet sheet,
        HandoverOrder order,
        string stage,
        Guid? owner,
        string source,
        string? campaign
    ) =>
        connection.ExecuteAsync(
            """
            insert into deal (id, name, pipeline_key, stage_key, amount, currency, expected_close, account_id, contact_id, owner_id, lead_id, source, campaign, created_at, stage_since, facts)
            values (@DealId, @name, @Pipeline, @stage, @Amount, @Currency, @ExpectedClose, @AccountId, @ContactId, @owner, @LeadId, @source, @campaign, @At, @At, @facts::jsonb)
            """,
            new
            {
                done.DealId,
                name = order.DealName.Trim(),
                order.Pipeline,
                stage,
                order.Amount,
                order.Currency,
                order.ExpectedClose,
                done.AccountId,
                done.ContactId,
                owner,
                done.LeadId,
                source,
                campaign,
                done.At,
                facts = Json.Write(sheet.Lines.Where(l => l.On == Landing.Deal).ToDictionary(l => l.Field, l => l.Stored)),
            }
        );

    private static Task CarryAlong(NpgsqlConnection connection, HandoverRow done, string dealName) =>
        connection.ExecuteAsync(
            """
            insert into handover (id, lead_id, account_id, contact_id, deal_id, made_account, made_contact, account_before, contact_before, at, person_id)
              values (@Id, @LeadId, @AccountId, @ContactId, @DealId, @MadeAccount, @MadeContact, @AccountBefore::jsonb, @ContactBefore::jsonb, @At, @PersonId);
            insert into story_entry (id, lead_id, at, kind, text, person_id) values (gen_random_uuid(), @LeadId, @At, 'handed_over', @text, @PersonId);
            update story_entry set contact_id = @ContactId, account_id = @AccountId, deal_id = @DealId where lead_id = @LeadId;
            update task set deal_id = @DealId, contact_id = @ContactId where lead_id = @LeadId;
            delete from twin where state = 'open' and (a = @LeadId or b = @LeadId);
            update lead set state = 'handed_over', clock_due_at = null, last_touch_at = @At, version = version + 1 where id = @LeadId;
            """,
            new
            {
                done.Id,
                done.LeadId,
                done.AccountId,
                done.ContactId,
                done.DealId,
                done.MadeAccount,
                done.MadeContact,
                done.AccountBefore,
                done.ContactBefore,
                done.At,
                done.PersonId,
                text = $"Handed over as {dealName.Trim()}",
            }
        );

    private static async Task<IReadOnlyList<FoundRecord>> Accounts(NpgsqlConnection connection, RecordValues record)
    {
        var own = Organisation.Of(record);
        var found = await connection.QueryAsync<(Guid Id, string Name, string? Domain, string? Key, string? Country)>(
            "select id, name, domain, company_key, country from account where domain = @Domain or company_key = @Name order by created_at limit 50",
            new { own.Domain, own.Name }
        );
        return Judge(found.Select(a => (a.Id, a.Name, AccountMatcher.Compare(own, new Organisation(a.Domain ?? "", a.Key ?? "", a.Country ?? "")))));
    }

    private async Task<IReadOnlyList<FoundRecord>> Contacts(NpgsqlConnection connection, RecordValues record)
    {
        var own = Identity.Of(record);
        var found = await connection.QueryAsync<(Guid Id, string Name, string Facts)>(
            "select id, name, facts::text from contact where id in (select record_id from match_key where key = any(@keys)) or email = @Email or phone = @Phone order by created_at limit 50",
            new
            {
                own.Email,
                own.Phone,
                keys = BlockKeys.Kept(own).ToArray(),
            }
        );
        return Judge(found.Select(c => (c.Id, c.Name, installation.Matcher.Compare(own, Identity.Of(Json.ToRecord(c.Facts, installation.Catalogue))))));
    }

    private static IReadOnlyList<FoundRecord> Judge(IEnumerable<(Guid Id, string Name, MatchResult Match)> candidates) =>
        [
            .. candidates
                .Where(c => c.Match.Same || c.Match.Twin)
                .OrderByDescending(c => c.Match.Bits)
                .Select(c => new FoundRecord(c.Id, c.Name, c.Match.Bits, c.Match.Same, [.. c.Match.Evidence.Select(e => e.Words)])),
        ];

    private static async Task<Dictionary<string, string>?> Facts(NpgsqlConnection connection, string table, Guid? id) =>
        id is null || await connection.QuerySingleOrDefaultAsync<string>($"select facts::text from {table} where id = @id", new { id }) is not { } facts
            ? null
            : Json.Read<Dictionary<string, string>>(facts);
}
