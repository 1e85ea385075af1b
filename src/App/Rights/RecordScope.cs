using System.Collections.Frozen;
using System.Security.Claims;
using DapperLantern.App.Data;
using DapperLantern.App.Events;
using DapperLantern.App.Setup;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Rights;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Rights;

/// <summary>
/// What one person may see: the condition over the records of each kind, and over those whose contact data is shown to them. Every list, count, search, page and export takes its
/// condition from here; <c>ScopedReadsTests</c> refuses a statement that reads such a table without one.
/// </summary>
public sealed class RecordScope
{
    /// <summary>Tables of records that have an owner, and are seen by whose they are.</summary>
    public static FrozenSet<string> Kinds { get; } = FrozenSet.ToFrozenSet([EventLog.Lead, EventLog.Contact, EventLog.Account, EventLog.Deal]);

    /// <summary>Of work that nobody asked for in person: it sees everything.</summary>
    public static RecordScope Everything { get; } = new(Guid.Empty, _ => Reach.All, Reach.All, [], []);

    private readonly Guid _person;
    private readonly Func<string, Reach> _reach;
    private readonly Reach _contactData;
    private readonly Guid[] _team;
    private readonly Guid[] _reports;

    /// <param name="reach">By the table of the kind.</param>
    /// <param name="contactData">Whose contact data is shown, among the records that are seen.</param>
    /// <param name="team">The others in the person's teams.</param>
    /// <param name="reports">Those who report to the person.</param>
    public RecordScope(Guid person, Func<string, Reach> reach, Reach contactData, Guid[] team, Guid[] reports) =>
        (_person, _reach, _contactData, _team, _reports) = (person, reach, contactData, team, reports);

    /// <summary>True where contact data of some records is kept from the person.</summary>
    public bool HidesContactData => !_contactData.HasFlag(Reach.All);

    /// <summary>True where the fields about a person, beside name and contact data, are kept from the reader.</summary>
    public bool HidesPersonalData { get; init; }

    /// <summary>True where costs and margins are kept from the reader.</summary>
    public bool HidesCosts { get; init; }

    /// <summary>True where costs and margins may not be changed, shown or not.</summary>
    public bool LocksCosts { get; init; }

    /// <summary>True where contact data that is shown may not be changed.</summary>
    public bool LocksContactData { get; init; }

    /// <summary>True where fields about a person that are shown may not be changed.</summary>
    public bool LocksPersonalData { get; init; }

    /// <summary>True where some fields are kept from the reader whosever the record is.</summary>
    public bool HidesFields => HidesPersonalData || HidesCosts;

    /// <summary>True for a field that is kept from the reader whosever the record is.</summary>
    public bool Hides(FieldDefinition field) => HidesPersonalData && IsPersonalData(field) || HidesCosts && field.Cost;

    /// <summary>True for a field that is kept from the reader of a record.</summary>
    /// <param name="showsContactData">Whether contact data of the record is shown.</param>
    public bool Hides(FieldDefinition field, bool showsContactData) => Hides(field) || !showsContactData && IsContactData(field);

    /// <summary>Takes out of a record what is kept from its reader.</summary>
    /// <param name="showsContactData">Whether contact data of the record is shown.</param>
    public void HideIn(RecordValues record, bool showsContactData)
    {
        foreach (var field in record.Catalogue.Fields.Where(f => Hides(f, showsContactData)))
            record[field.Ordinal] = FieldValue.Unknown;
    }

    /// <summary>SQL of a fact about a person: null where such facts are kept from the reader.</summary>
    internal SqlText Personal(string column) => HidesPersonalData ? (SqlText)$"null::text" : $"{column:sql}";

    /// <summary>SQL of a number that is a cost: null where costs are kept from the reader.</summary>
    internal SqlText Cost(string column) => HidesCosts ? (SqlText)$"null::numeric" : $"{column:sql}";

    /// <summary>True for a field that may not be changed, whosever the record is.</summary>
    public bool Keeps(FieldDefinition field) => LocksPersonalData && IsPersonalData(field) || LocksContactData && IsContactData(field) || LocksCosts && field.Cost;

    /// <summary>Why fields of a record may not be changed by the person: they are not shown, or only shown. Null where they may.</summary>
    /// <param name="kind">One of <see cref="Kinds"/>.</param>
    public async Task<Problem?> Locks(LanternDb db, string kind, Guid id, IReadOnlyCollection<FieldDefinition> fields)
    {
        if (fields.FirstOrDefault(f => Hides(f) || Keeps(f)) is { } locked)
            return Problem.Of("field-locked", locked.Key, locked.Label);
        return fields.FirstOrDefault(IsContactData) is { } contact && !await ShowsContactDataOf(db, kind, id) ? Problem.Of("field-locked", contact.Key, contact.Label) : null;
    }

    /// <summary>Those of some records that the person does not see; nothing is asked where they see all of the kind.</summary>
    /// <param name="kind">One of <see cref="Kinds"/>; ids of other kinds are in no answer.</param>
    public async Task<IReadOnlyCollection<Guid>> Unseen(LanternDb db, string kind, Guid[] records) =>
        SeesAll(kind) || records.Length == 0 ? [] : await db.Rows<Guid>($"""select r.id as "Value" from {kind:sql} r where r.id = any({records}) and not {Sees(kind, "r"):sql}""");

    /// <summary>Whether contact data of one record that is seen is shown.</summary>
    /// <param name="kind">One of <see cref="Kinds"/>.</param>
    public async Task<bool> ShowsContactDataOf(LanternDb db, string kind, Guid id) =>
        !HidesContactData
        || await db.One<bool>(
            $"select coalesce((select {ShowsContactData(kind, "r"):sql} from {kind:sql} r where r.id = {id}), false) as \"Value\" {Unscoped("of a record that was checked"):sql}"
        );

    /// <summary>True where the person sees every record of the kind.</summary>
    public bool SeesAll(string kind) => _reach(kind).HasFlag(Reach.All);

    /// <summary>True where the person sees every record of every kind.</summary>
    public bool SeesEverything => Kinds.All(SeesAll);

    /// <summary>Email addresses, telephone numbers and their extensions.</summary>
    public static bool IsContactData(FieldDefinition field) => field.Type is FieldType.Email or FieldType.Phone || field.Key == "extension";

    /// <summary>Fields about a person, beside their name and contact data.</summary>
    public static bool IsPersonalData(FieldDefinition field) => field.Personal && !IsContactData(field) && field.Key is not ("first_name" or "last_name");

    /// <summary>True for a name that is none but an address or a number, or has one in it.</summary>
    public static bool IsContactData(string name) => name.Contains('@', StringComparison.Ordinal) || $" {name}".Contains(" +", StringComparison.Ordinal);

    /// <summary>The condition that the person sees a record; never null.</summary>
    /// <param name="kind">One of <see cref="Kinds"/>.</param>
    /// <param name="alias">Of the table of the kind in the statement.</param>
    internal SqlText Sees(string kind, string alias) => $"(/*sees {kind:sql} {alias:sql}*/ {Within(_reach(kind), kind, alias):sql})";

    /// <summary>The condition that the contact data of a record that is seen is shown; never null.</summary>
    internal SqlText ShowsContactData(string kind, string alias) => Within(_contactData, kind, alias);

    /// <summary>The condition that the person sees the record that a column names; also true where it names none.</summary>
    internal SqlText SeesTied(string kind, string column) =>
        SeesAll(kind) ? (SqlText)$"true" : $"({column:sql} is null or exists (select 1 from {kind:sql} tied where tied.id = {column:sql} and {Sees(kind, "tied"):sql}))";

    /// <summary>The condition that the person sees all records that columns name, of the kind that another column says: lead, contact or account; never null.</summary>
    internal SqlText SeesNamed(string kindColumn, params string[] columns)
    {
        if (SeesEverything)
            return $"true";
        SqlText[] kinds = [.. new[] { EventLog.Lead, EventLog.Contact, EventLog.Account }.Select(Of)];
        return $"({SqlText.Joined(kinds, " or "):sql})";

        SqlText Of(string kind) => $"({kindColumn:sql} = {kind} and {SqlText.Joined([.. columns.Select(c => SeesTied(kind, c))], " and "):sql})";
    }

    /// <summary>The name a lead goes by as the person sees it: of the person, else of the company, else the address or number, else the lead's own number.</summary>
    internal SqlText LeadName(string alias) =>
        $"""
            coalesce(nullif(trim(concat_ws(' ', {alias:sql}.first_name, {alias:sql}.last_name)), ''), {alias:sql}.company,
              case when {ShowsContactData(EventLog.Lead, alias):sql} then coalesce({alias:sql}.email, {alias:sql}.phone) end, 'Lead ' || {alias:sql}.number)
            """;

    /// <summary>The name of a contact as the person sees it: some go by their address or number.</summary>
    internal SqlText ContactName(string alias) =>
        HidesContactData
            ? (SqlText)
                $"(case when {alias:sql}.id is null then null when {ShowsContactData(EventLog.Contact, alias):sql} or {alias:sql}.name not in (coalesce({alias:sql}.email, ''), coalesce({alias:sql}.phone, '')) then {alias:sql}.name else {Nameless} end)"
            : $"{alias:sql}.name";

    /// <summary>The name of a record that stands beside one that is seen, joined by its key: words in its place where the person does not see it; null where there is none.</summary>
    /// <param name="kind">One of <see cref="Kinds"/>.</param>
    internal SqlText NameBeside(string kind, string alias)
    {
        var name =
            kind == EventLog.Contact ? ContactName(alias)
            : kind == EventLog.Lead ? LeadName(alias)
            : $"{alias:sql}.name";
        return SeesAll(kind) ? name : $"case when {Sees(kind, alias):sql} then {name:sql} when {alias:sql}.id is not null then {Unseen(kind)} end";
    }

    /// <summary>The name of whichever of three joined records is there, as the person sees it.</summary>
    internal SqlText AnyName(string lead, string contact, string account) =>
        $"coalesce(case when {lead:sql}.id is not null then {LeadName(lead):sql} end, {ContactName(contact):sql}, {account:sql}.name)";

    /// <summary>What a record is called beside another whose reader does not see it.</summary>
    internal static string Unseen(string kind) => $"{char.ToUpperInvariant(kind[0])}{kind[1..]} you do not see";

    /// <summary>What a contact is called whose only name is kept from the reader.</summary>
    internal const string Nameless = "Contact without a name";

    /// <summary>The records of a kind that the person sees, to be asked further.</summary>
    internal IQueryable<T> Of<T>(LanternDb db)
        where T : class
    {
        var kind = db.Model.FindEntityType(typeof(T))!.GetTableName()!;
        SqlText seen = $"select r.* from {kind:sql} r where {Sees(kind, "r"):sql}";
        return db.Set<T>().FromSql(seen.ForContext());
    }

    /// <summary>Marks a statement that reads records for the program's own work, of which no record is shown.</summary>
    /// <param name="why">For the reader of the code.</param>
    internal static SqlText Unscoped(string why) => $"/*unscoped: {why:sql}*/";

    // Whole by itself, so that it can stand beside any other condition.
    private SqlText Within(Reach reach, string kind, string alias)
    {
        if (reach.HasFlag(Reach.All))
            return $"true";
        var parts = new List<SqlText>();
        Guid[] owners = [.. reach.HasFlag(Reach.Own) ? [_person] : Array.Empty<Guid>(), .. reach.HasFlag(Reach.Team) ? _team : [], .. reach.HasFlag(Reach.Reports) ? _reports : []];
        if (reach.HasFlag(Reach.Unowned))
            parts.Add($"{alias:sql}.owner_id is null");
        // Said with "is not null", so that it is never null itself; an index is used all the same.
        if (owners.Length == 1)
            parts.Add($"({alias:sql}.owner_id is not null and {alias:sql}.owner_id = {owners[0]})");
        else if (owners.Length > 1)
            parts.Add($"({alias:sql}.owner_id is not null and {alias:sql}.owner_id = any({owners}))");
        if (reach.HasFlag(Reach.Shared))
            parts.Add($"{alias:sql}.id = any(array(select {kind:sql}_id from record_share where person_id = {_person} and {kind:sql}_id is not null))");
        if (parts.Count == 0)
            return $"false";
        return $"({SqlText.Joined(parts, " or "):sql})";
    }
}

/// <summary>Who sees what, by their rights; and the scope of a request.</summary>
public sealed class RecordScopes
{
    /// <summary>Whose records of a kind somebody sees.</summary>
    public Func<UserRights, string, Reach> Records { get; set; } = (rights, kind) => rights.Sees(kind);

    /// <summary>Whose contact data somebody sees.</summary>
    public Func<UserRights, Reach> ContactData { get; set; } = rights => rights.ContactData;

    /// <summary>The scope of somebody signed in; one that sees nothing for one who is not.</summary>
    public RecordScope Of(ClaimsPrincipal user, Workspace workspace) =>
        user.Rights().Roles.IsEmpty ? new RecordScope(Guid.Empty, _ => Reach.None, Reach.None, [], []) : Of(user.Id(), user.Rights(), workspace);

    public RecordScope Of(Guid person, UserRights rights, Workspace workspace) =>
        new(person, kind => Records(rights, kind), ContactData(rights), workspace.Circles.TeamOf(person), workspace.Circles.ReportsTo(person))
        {
            HidesPersonalData = !rights.PersonalData,
            LocksContactData = !rights.ChangesContactData,
            LocksPersonalData = !rights.ChangesPersonalData,
            HidesCosts = !rights.CostData,
            LocksCosts = !rights.ChangesCostData,
        };
}
