using DapperLantern.App.Data;
using DapperLantern.App.Setup;
using DapperLantern.Core.Deals;
using DapperLantern.Core.Fields;
using Microsoft.AspNetCore.Http.HttpResults;

namespace DapperLantern.App.Deals;

/// <summary>Whether a deal may enter a stage.</summary>
public static class DealSnapshots
{
    /// <summary>All that stages of this workspace may need.</summary>
    public static IReadOnlyList<Choice> Needs(WorkspaceConfiguration workspace) => StageNeeds.All(workspace.List(PickList.Roles), workspace.Catalogue.FactsOf(TargetRecord.Deal));

    /// <summary>Why the deal, as it stands in this transaction, may not enter the stage; null when it may.</summary>
    public static async Task<ProblemHttpResult?> WhyNot(LanternDb db, Guid deal, LiveStage stage, WorkspaceConfiguration workspace) =>
        stage.Needs.Length == 0 ? null : WhyNot(await Of(db, deal), stage, workspace);

    /// <summary>The same of a deal that is not made yet.</summary>
    public static ProblemHttpResult? WhyNot(DealSnapshot deal, LiveStage stage, WorkspaceConfiguration workspace)
    {
        var missing = StageNeeds.Missing(stage.Needs, deal, Needs(workspace));
        return missing.Count == 0 ? null : ApiProblems.Invalid("stage-needs", $"Before a deal is in {stage.Name}, it needs: {string.Join("; ", missing.Select(Lower))}.", "stage");
    }

    private static string Lower(string words) => char.ToLowerInvariant(words[0]) + words[1..];

    private static async Task<DealSnapshot> Of(LanternDb db, Guid deal)
    {
        var row = await db.QuerySingleAsync<(decimal Amount, int Products, bool Step, string[] Roles, bool Competitor, string[] Facts)>(
            """
            select d.amount, (select count(*)::int from deal_product where deal_id = d.id), exists (select 1 from task where deal_id = d.id and done_at is null),
              array(select role from deal_person where deal_id = d.id), exists (select 1 from deal_competitor where deal_id = d.id), array(select jsonb_object_keys(d.facts))
            from deal d where d.id = @deal
            """,
            new { deal }
        );
        return new DealSnapshot(row.Amount, row.Products, row.Step, row.Roles.ToHashSet(), row.Competitor, row.Facts.ToHashSet());
    }
}
