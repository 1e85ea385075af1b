using DapperLantern.App.Data;
using DapperLantern.App.Events;
using DapperLantern.App.Setup;
using DapperLantern.Core.Events;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Intake;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Leads;

/// <summary>Changes facts of a lead on somebody's word: read by the catalogue, kept with who said it, told in the story, scored.</summary>
public sealed class LeadEditor(Workspace workspace, LeadRescore rescore, CompanyDirectory directory)
{
    /// <summary>Looks the company up and fills blanks, in the caller's transaction, with the lead locked. Gives the labels of what was filled.</summary>
    public async Task<IReadOnlyList<string>> LookUp(LanternDb db, Guid id, DateTime now)
    {
        var facts = (await LeadStore.Load(db, id, workspace.Catalogue))!;
        var filled = directory.Fill(facts).Select(k => workspace.Catalogue[k]).ToList();
        if (filled.Count == 0)
            return [];
        await LeadStore.Write(db, id, [.. filled.Select(f => (f, facts[f.Ordinal]))], CompanyDirectory.From, now, workspace.Catalogue);
        await db.Log(EventLog.Lead, id, new FactsFilled([.. filled.Select(f => f.Key)]));
        await rescore.Run(db, id, now);
        return [.. filled.Select(f => f.Label)];
    }

    /// <summary>In the caller's transaction, with the lead locked. Gives what is wrong, with its field; null when it is done.</summary>
    /// <param name="by">A name, for the provenance.</param>
    public async Task<Problem?> Change(LanternDb db, Guid id, IReadOnlyDictionary<string, string> asked, string by, Guid? person, DateTime now)
    {
        var current = (await LeadStore.Load(db, id, workspace.Catalogue))!;
        var written = new Dictionary<string, string>(asked) { ["country"] = asked.GetValueOrDefault("country", current.Text("country") ?? "") };
        var (facts, problem) = WrittenFacts.Read(written, workspace.Catalogue);
        if (problem is not null)
            return problem;
        var changes = asked.Keys.Select(k => (Field: workspace.Catalogue[k], Value: facts[k])).Where(c => current[c.Field.Ordinal] != c.Value).ToList();
        var told = changes.ConvertAll(c => EventLog.Change(c.Field, current[c.Field.Ordinal], c.Value));
        foreach (var (field, value) in changes)
            current[field.Key] = value;
        if (RowReader.WhyUnfit(current) is { } unfit)
            return unfit with { Path = asked.Keys.FirstOrDefault() ?? "" };
        if (changes.Count == 0)
            return null;
        await LeadStore.Write(db, id, changes, by, now, workspace.Catalogue);
        await db.Log(EventLog.Lead, id, FactsChanged.Of(told, person is null ? by : null));
        await rescore.Run(db, id, now);
        return null;
    }
}
