using System.Collections;
using System.Collections.Frozen;
using System.Reflection;
using DapperLantern.App.Data;
using DapperLantern.App.Events;

namespace DapperLantern.App.Rights;

/// <summary>
/// Answers for a record that the caller does not see as for one that is not there, before anything else is looked at: for that of the address, for that on which the thing of the address
/// hangs, and for each that the request names (<see cref="OfRecordAttribute"/>).
/// </summary>
internal static class RecordGate
{
    /// <param name="Seen">What holds of a row, under the alias r, whose reader sees all that it hangs on; null where they see all there is.</param>
    private sealed record Gate(string Table, string Words, Func<RecordScope, SqlText?> Seen)
    {
        public Gate(string table, string words, params (string Kind, string Column)[] ties)
            : this(table, words, scope => ties.All(t => scope.SeesAll(t.Kind)) ? null : SqlText.Joined([.. ties.Select(t => scope.SeesTied(t.Kind, $"r.{t.Column}"))], " and ")) { }
    }

    // Of rows that say themselves of which kind their records are.
    private static Gate OfAnyKind(string table, string words, params string[] columns) =>
        new(table, words, scope => scope.SeesEverything ? null : scope.SeesNamed("r.kind", columns));

    // A record that a request names.
    private sealed record Naming(string Kind, string Path, Guid Id);

    // By the first word of an address.
    private static readonly FrozenDictionary<string, Gate> Gates = new Dictionary<string, Gate>
    {
        ["leads"] = new("lead", "lead", (EventLog.Lead, "id")),
        ["deals"] = new("deal", "deal", (EventLog.Deal, "id")),
        ["accounts"] = new("account", "account", (EventLog.Account, "id")),
        ["contacts"] = new("contact", "contact", (EventLog.Contact, "id")),
        ["tasks"] = new("task", "task", (EventLog.Lead, "lead_id"), (EventLog.Deal, "deal_id"), (EventLog.Contact, "contact_id")),
        ["meetings"] = new("meeting", "meeting", (EventLog.Lead, "lead_id")),
        ["files"] = new("lead_file", "file", (EventLog.Lead, "lead_id")),
        ["duplicates"] = OfAnyKind("duplicate", "pair", "r.a", "r.b"),
        ["merges"] = OfAnyKind("record_merge", "merge", "r.kept_id"),
        ["story"] = new("story_entry", "note", (EventLog.Lead, "lead_id"), (EventLog.Deal, "deal_id"), (EventLog.Account, "account_id"), (EventLog.Contact, "contact_id")),
    }.ToFrozenDictionary();

    public static RouteGroupBuilder KeepsUnseen(this RouteGroupBuilder api)
    {
        api.AddEndpointFilterFactory(
            (endpoint, next) =>
            {
                var parts = endpoint.MethodInfo.GetParameters();
                return async context =>
                {
                    var http = context.HttpContext;
                    var gate = Guid.TryParse(http.Request.RouteValues.GetValueOrDefault("id") as string, out var id) ? GateOf(http.Request.Path) : null;
                    var named = parts.SelectMany((part, i) => i < context.Arguments.Count ? Named(part, context.Arguments[i]) : []).ToList();
                    if (gate is null && named.Count == 0)
                        return await next(context);
                    var scope = http.RequestServices.GetRequiredService<RecordScope>();
                    var db = http.RequestServices.GetRequiredService<LanternDb>();
                    if (gate is not null && !await Sees(db, scope, gate, id))
                        return ApiProblems.NotFound(gate.Words);
                    foreach (var one in named.Where(n => !scope.SeesAll(n.Kind)))
                        if (!await Sees(db, scope, Gates[$"{one.Kind}s"], one.Id))
                            return ApiProblems.Of("record-unknown", one.Path, one.Kind);
                    return await next(context);
                };
            }
        );
        return api;
    }

    private static Gate? GateOf(PathString path) => path.Value!.Split('/', StringSplitOptions.RemoveEmptyEntries) is ["api", var first, ..] ? Gates.GetValueOrDefault(first) : null;

    // Whether it is there, and all it hangs on is seen. Of what everybody sees, the act itself says whether it is there.
    private static async Task<bool> Sees(LanternDb db, RecordScope scope, Gate gate, Guid id)
    {
        if (gate.Seen(scope) is not { } seen)
            return true;
        return await db.One<bool>(
            $"""select exists (select 1 from {gate.Table:sql} r where r.id = {id} and {seen:sql}) as "Value" {RecordScope.Unscoped("its scope is that of what it hangs on"):sql}"""
        );
    }

    private static IEnumerable<Naming> Named(ParameterInfo part, object? value) =>
        value is null ? []
        : part.GetCustomAttribute<OfRecordAttribute>() is { } mark ? [new Naming(mark.Kind, part.Name!, (Guid)value)]
        : IsOrder(value.GetType()) ? Named(value, "")
        : [];

    private static bool IsOrder(Type type) =>
        type.Namespace?.StartsWith("DapperLantern", StringComparison.Ordinal) == true && type is { IsClass: true } && type.GetMethod("<Clone>$") is not null;

    private static IEnumerable<Naming> Named(object order, string within)
    {
        foreach (var property in order.GetType().GetProperties().Where(p => p.GetIndexParameters().Length == 0))
        {
            var path = within + char.ToLowerInvariant(property.Name[0]) + property.Name[1..];
            if (property.GetCustomAttribute<OfRecordAttribute>() is { } mark)
            {
                if (property.GetValue(order) is Guid id)
                    yield return new Naming(mark.Kind, path, id);
            }
            else if (property.PropertyType != typeof(string) && typeof(IEnumerable).IsAssignableFrom(property.PropertyType) && Holds(property.PropertyType))
            {
                var items = property.GetValue(order) as IEnumerable ?? Array.Empty<object>();
                foreach (var (i, item) in items.Cast<object>().Index())
                foreach (var named in Named(item, $"{path}.{i}."))
                    yield return named;
            }
        }
    }

    private static bool Holds(Type list) =>
        list.IsGenericType && list.GetGenericArguments() is [var item] && IsOrder(item) && item.GetProperties().Any(p => p.GetCustomAttribute<OfRecordAttribute>() is not null);
}
