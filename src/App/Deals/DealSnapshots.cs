using DapperLantern.App.Data;
using DapperLantern.App.Leads;
using DapperLantern.App.Setup;
using DapperLantern.Core.Deals;
using DapperLantern.Core.Fields;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Deals;

/// <summary>Whether a deal may enter a stage.</summary>
public static class DealSnapshots
{
    /// <summary>All that stages of this workspace may need.</summary>
    public static IReadOnlyList<Choice> Needs(Workspace workspace) => StageNeeds.All(workspace.List(PickList.Roles), workspace.Catalogue.FactsOf(TargetRecord.Deal));

    /// <summary>Why the deal, as it stands in this transaction, may not enter the stage; null when it may.</summary>
    public static async Task<Problem?> WhyNot(LanternDb db, Guid deal, LiveStage stage, Workspace workspace) =>
        stage.Needs.Length == 0 ? null : WhyNot(await Of(db, deal), stage, workspace);

    /// <summary>The same of a deal that is not made yet.</summary>
    public static Problem? WhyNot(DealSnapshot deal, LiveStage stage, Workspace workspace)
    {
        var missing = StageNeeds.Missing(stage.Needs, deal, Needs(workspace));
        return missing.Count == 0 ? null : Problem.Of("stage-needs", "stage", stage.Name, new Whole(string.Join("; ", missing.Select(Lower))));
    }

    private static string Lower(string words) => char.ToLowerInvariant(words[0]) + words[1..];

    private static async Task<DealSnapshot> Of(LanternDb db, Guid deal)
    {
        var row = await db.Set<Deal>()
            .Where(d => d.Id == deal)
            .Select(d => new
            {
                d.Amount,
                d.Facts,
                Products = db.Set<DealProductRow>().Count(p => p.DealId == d.Id),
                Step = db.Set<TaskRow>().Any(t => t.DealId == d.Id && t.DoneAt == null),
                Roles = db.Set<DealPersonRow>().Where(p => p.DealId == d.Id).Select(p => p.Role).ToList(),
                Competitor = db.Set<DealCompetitorRow>().Any(c => c.DealId == d.Id),
            })
            .SingleAsync();
        var facts = Json.Read<Dictionary<string, string>>(row.Facts);
        return new DealSnapshot(row.Amount, row.Products, row.Step, row.Roles.ToHashSet(), row.Competitor, facts.Keys.ToHashSet());
    }
}
