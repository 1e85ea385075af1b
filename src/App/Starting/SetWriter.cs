using DapperLantern.App.Campaigns;
using DapperLantern.App.Data;
using DapperLantern.App.Deals;
using DapperLantern.App.Intake;
using DapperLantern.App.Intake.Forms;
using DapperLantern.App.Leads;
using DapperLantern.App.Setup;

namespace DapperLantern.App.Starting;

/// <summary>Writes the parts of a set-up into an empty workspace: adds rows to the context, and saves nothing.</summary>
/// <param name="at">When the forms and editions are said to have been made, UTC.</param>
public sealed class SetWriter(LanternDb db, DateTime at)
{
    public void Sources(IEnumerable<SetSource> sources) =>
        db.AddRange(
            sources.Select(s => new SourceRow
            {
                Key = s.Key,
                Name = s.Name,
                Channel = s.Channel,
                EventKind = s.EventKind,
                Campaign = s.Campaign,
            })
        );

    public void Tags(IEnumerable<SetTag> tags) =>
        db.AddRange(
            tags.Select(t => new TagRow
            {
                Key = t.Key,
                Name = t.Name,
                GroupName = t.Group,
                Colour = t.Colour,
            })
        );

    /// <param name="currency">What new deals are in.</param>
    public void Pipelines(IEnumerable<SetPipeline> pipelines, string currency)
    {
        foreach (var (pipeline, i) in pipelines.Select((p, i) => (p, i)))
        {
            db.Add(
                new PipelineRow
                {
                    Key = pipeline.Key,
                    Name = pipeline.Name,
                    Position = i,
                    NameForm = pipeline.NameForm,
                    UsualDays = pipeline.UsualDays,
                    Currency = currency,
                    Questions = Json.Write(pipeline.Questions ?? []),
                }
            );
            db.AddRange(pipeline.Stages.Select((s, n) => Stage(pipeline.Key, s, n)));
        }
    }

    private static StageRow Stage(string pipeline, SetStage stage, int position) =>
        new()
        {
            PipelineKey = pipeline,
            Key = stage.Key,
            Name = stage.Name,
            Position = position,
            Probability = stage.Probability,
            Counts = stage.Counts,
            Colour = stage.Colour,
            Days = stage.Days,
            Needs = stage.Needs ?? [],
        };

    /// <summary>Forms with their first edition, which is live.</summary>
    public void Forms(IEnumerable<SetForm> forms)
    {
        foreach (var form in forms)
        {
            db.Add(
                new FormRow
                {
                    Key = form.Key,
                    Name = form.Name,
                    Source = form.Source,
                    Draft = Json.Write(form.Sheet),
                    CreatedAt = at,
                }
            );
            Live(FormRow.EditionKind(form.Key), Json.Write(form.Sheet));
        }
    }

    public void Views(IEnumerable<SetView> views) =>
        db.AddRange(
            views.Select(
                (v, i) =>
                    new ViewRow
                    {
                        Id = Guid.CreateVersion7(),
                        Name = v.Name,
                        Scope = ViewRow.Fixed,
                        Position = i,
                        Body = Json.Write(new ViewBody(v.Where, v.Order, [.. v.Columns.Select(c => new ViewColumn(c))], v.Group, false, v.Quick)),
                    }
            )
        );

    /// <summary>The first edition of a kind, live.</summary>
    public void Live(string kind, string body, Guid? by = null) =>
        db.Add(
            new Edition
            {
                Id = Guid.CreateVersion7(),
                Kind = kind,
                Number = 1,
                State = "live",
                Body = body,
                PublishedAt = at,
                PublishedBy = by,
            }
        );

    /// <summary>A setup entry that is not there yet.</summary>
    public void Entry(string key, object body) => db.Add(new SetupEntry { Key = key, Body = Json.Write(body) });
}
