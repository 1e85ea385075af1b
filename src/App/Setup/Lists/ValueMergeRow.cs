using DapperLantern.App.Data;
using DapperLantern.Core.Fields;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Setup;

/// <summary>That one value of a list stands for another, with all that takes it back.</summary>
public sealed class ValueMergeRow
{
    public Guid Id { get; set; }
    public string List { get; set; } = "";
    public string FromKey { get; set; } = "";

    /// <summary>JSON of the value that went (<see cref="Choice"/>).</summary>
    public string FromBody { get; set; } = "{}";

    /// <summary>Where it stood in its list, from 0.</summary>
    public int Position { get; set; }
    public string IntoKey { get; set; } = "";

    /// <summary>JSON: for each column the records that had the value that went.</summary>
    public string Moved { get; set; } = "{}";

    /// <summary>How many records that are.</summary>
    public int Records { get; set; }
    public DateTime At { get; set; }
    public Guid ById { get; set; }
    public DateTime? UndoneAt { get; set; }

    internal static void Map(ModelBuilder model) =>
        model.Map<ValueMergeRow>(
            "value_merge",
            m =>
            {
                m.Property(x => x.FromBody).HasColumnType("jsonb");
                m.Property(x => x.Moved).HasColumnType("jsonb");
                m.HasIndex(x => x.At);
            }
        );

    private const int Most = 20;

    /// <summary>The latest merges of some lists that can be taken back.</summary>
    /// <param name="nameOf">Gives the name of a value by its list and key.</param>
    internal static async Task<IReadOnlyList<ValueMergeView>> Views(LanternDb db, IReadOnlyList<string> lists, Func<string, string, string> nameOf)
    {
        var merges = await (
            from m in db.Set<ValueMergeRow>()
            where m.UndoneAt == null && lists.Contains(m.List)
            join p in db.Users on m.ById equals p.Id
            orderby m.At descending
            select new { Merge = m, By = p.DisplayName }
        )
            .Take(Most)
            .ToListAsync();
        return [.. merges.Select(x => View(x.Merge, x.By))];

        ValueMergeView View(ValueMergeRow m, string by) => new(m.Id, m.List, Json.Read<Choice>(m.FromBody).Label, nameOf(m.List, m.IntoKey), m.Records, m.At, by);
    }

    /// <summary>Values that went, by list and key: the log still names them.</summary>
    internal static async Task<Dictionary<(string List, string Key), string>> Names(LanternDb db) => (
            await db.Set<ValueMergeRow>()
                .Where(m => m.UndoneAt == null)
                .OrderBy(m => m.At)
                .Select(m => new
                {
                    m.List,
                    m.FromKey,
                    m.FromBody,
                })
                .ToListAsync()
        ).GroupBy(m => (m.List, m.FromKey)).ToDictionary(g => g.Key, g => Json.Read<Choice>(g.Last().FromBody).Label);
}
