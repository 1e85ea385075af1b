namespace DapperLantern.App.Data;

/// <summary>The sequence <c>people_change</c>: it moves whenever people came, went or became others, so that work which looked them up before knows that it has to look again.</summary>
internal static class PeopleChange
{
    public static Task Tell(LanternDb db) => db.Run($"select nextval('people_change')");

    public static Task<long> Now(LanternDb db) => db.One<long>($"""select last_value as "Value" from people_change""");
}
