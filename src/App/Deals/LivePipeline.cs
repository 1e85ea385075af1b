using System.Collections.Immutable;
using DapperLantern.App.Data;
using DapperLantern.Core.Conditions;
using DapperLantern.Core.Deals;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Qualifying;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Deals;

/// <summary>A stage as the workspace has it.</summary>
public sealed record LiveStage(string Key, string Name, int Probability, string Counts, ImmutableArray<string> Needs, int? Days, string Colour)
{
    public bool IsOpen => Counts == "open";
}

/// <summary>A pipeline as it is kept.</summary>
public sealed record StoredPipeline(PipelineRow Row, ImmutableArray<Question> Own, Condition Threshold, ImmutableArray<LiveStage> Stages)
{
    public LivePipeline Compile(FieldCatalogue catalogue) =>
        new(
            Row.Key,
            Row.Name,
            Row.Version,
            Row.NameForm,
            Row.UsualDays,
            Row.Currency,
            Own,
            // A threshold that asks what is no longer there would keep everybody out; until it is mended the usual one holds.
            new Threshold(ConditionCheck.Check(Threshold, catalogue).Any() ? Core.Qualifying.Threshold.Usual : Threshold, catalogue),
            Stages
        );
}

/// <summary>A way of selling, ready to be used.</summary>
/// <param name="Own">Questions beyond the standard ones.</param>
public sealed record LivePipeline(
    string Key,
    string Name,
    int Version,
    string NameForm,
    int UsualDays,
    string Currency,
    ImmutableArray<Question> Own,
    Threshold Threshold,
    ImmutableArray<LiveStage> Stages
)
{
    /// <summary>Everything asked before a lead is qualified.</summary>
    public IEnumerable<Question> Questions => Core.Qualifying.Questions.Standard.Concat(Own);

    /// <summary>Where a deal begins; null for a pipeline without an open stage.</summary>
    public LiveStage? First => Stages.FirstOrDefault(s => s.IsOpen);

    public LiveStage? Stage(string key) => Stages.FirstOrDefault(s => s.Key == key);

    internal static async Task<List<StoredPipeline>> Rows(LanternDb db)
    {
        var stages = (await db.Set<StageRow>().AsNoTracking().OrderBy(x => x.Position).ThenBy(x => x.Key).ToListAsync()).ToLookup(s => s.PipelineKey);
        return
        [
            .. (await db.Set<PipelineRow>().AsNoTracking().OrderBy(x => x.Position).ThenBy(x => x.Name).ToListAsync()).Select(p => new StoredPipeline(
                p,
                [.. Json.Read<List<Question>>(p.Questions)],
                p.Threshold is null ? Threshold.Usual : Json.Read<Condition>(p.Threshold),
                [.. stages[p.Key].Select(s => new LiveStage(s.Key, s.Name, s.Probability, s.Counts, [.. s.Needs], s.Days, s.Colour))]
            )),
        ];
    }

    internal static async Task<ImmutableArray<Product>> Sold(LanternDb db)
    {
        var prices = (await db.Set<PriceRow>().AsNoTracking().ToListAsync()).ToLookup(p => p.ProductKey);
        return
        [
            .. (await db.Set<ProductRow>().AsNoTracking().Where(x => !x.Retired).OrderBy(x => x.Position).ThenBy(x => x.Name).ToListAsync()).Select(p => new Product(
                p.Key,
                p.Name,
                p.Unit,
                [.. p.AlsoCalled],
                prices[p.Key].ToImmutableSortedDictionary(x => x.Currency, x => x.Amount)
            )),
        ];
    }
}
