using DapperLantern.App.Campaigns;
using DapperLantern.App.Data;
using DapperLantern.App.Intake;
using DapperLantern.App.Intake.Forms;
using DapperLantern.App.Setup;
using DapperLantern.App.Starting;
using DapperLantern.Core.Intake;
using DapperLantern.Core.Intake.Forms;

namespace DapperLantern.App.Demo;

/// <summary>What was posted to the demo's forms, and what waits.</summary>
internal static class DemoArrivals
{
    private static readonly string[] Waters = ["Sea loch", "Reservoir", "Estuary", "Cooling pond", "Salmon river", "Harbour basin"];

    /// <summary>What came in one at a time, as it came; some posts to the price guide carry a water body nobody asked for yet.</summary>
    public static Task Save(LanternDb db, IReadOnlyList<DemoLead> leads, DemoSetup setup, IReadOnlyList<SetForm> forms, DateTime now)
    {
        var sources = setup.Sources.ToDictionary(s => s.Key);
        var rows = leads
            .Where(l => sources[l.Source].Channel != "list")
            .Select(
                (lead, i) =>
                {
                    var form = forms.FirstOrDefault(f => f.Source == lead.Source);
                    var raw = lead
                        .Facts.Known()
                        .Where(k => k.Field.Origin is not (Core.Fields.FieldOrigin.System or Core.Fields.FieldOrigin.Finding))
                        .ToDictionary(k => k.Field.Key, k => k.Value.ToString());
                    if (form?.Key == "price-guide" && i % 3 == 0)
                        raw["water_body"] = Waters[i % Waters.Length];
                    return new SingleArrival
                    {
                        Id = Guid.CreateVersion7(lead.At),
                        Channel = sources[lead.Source].Channel,
                        Source = lead.Source,
                        Campaign = setup.CampaignAt(lead.Source, lead.At, now),
                        FormKey = form?.Key,
                        FormEdition = form is null ? null : 1,
                        At = lead.At,
                        Raw = Json.Write(raw),
                        Outcome = SiftOutcome.New,
                        LeadId = lead.Id,
                    };
                }
            );
        return SingleArrival.Save(db, rows, default);
    }

    /// <summary>What the people who filled a form agreed to: the answer all of them, the rest every other one.</summary>
    public static Task KeepConsents(LanternDb db, PersonHash hashes, IReadOnlyList<DemoLead> leads, IReadOnlyList<SetForm> forms)
    {
        var said = leads.SelectMany(
            (lead, i) =>
            {
                if (forms.FirstOrDefault(f => f.Source == lead.Source) is not { } form)
                    return [];
                var words = form.Sheet.Text.Consents;
                return words
                    .Where(w => w.Key == "answer" || i % 2 == 0)
                    .SelectMany(w => ConsentRow.GivenBy(hashes, lead.Id, lead.Facts, w.Key, lead.At, w.Value, $"Form {form.Name}, edition 1"));
            }
        );
        return ConsentRow.Save(db, said, default);
    }

    /// <summary>Posts that wait: two look like spam.</summary>
    public static Task KeepWaiting(LanternDb db, DateTime now) =>
        SingleArrival.Save(
            db,
            [
                Waiting(
                    "price-guide",
                    "form-guide",
                    now.AddHours(-7),
                    new()
                    {
                        ["first_name"] = "Best",
                        ["last_name"] = "Offers www.cheap-floats.example",
                        ["email"] = "deals@cheap-floats.example",
                        ["consent.answer"] = "yes",
                        ["_lang"] = "en",
                    },
                    2
                ),
                Waiting(
                    "site-survey",
                    "form-survey",
                    now.AddHours(-3),
                    new()
                    {
                        ["first_name"] = "Moira",
                        ["last_name"] = "Tennant",
                        ["company"] = "Glen Orrin Estate",
                        ["email"] = "moira@glenorrin.example",
                        ["country"] = "GB",
                        ["interest"] = "Two lochs, oxygen near the cages. The estate's maps are on our page: www.glenorrin.example",
                        ["consent.answer"] = "yes",
                        ["_lang"] = "en",
                    },
                    1.4
                ),
            ],
            default
        );

    private static SingleArrival Waiting(string form, string source, DateTime at, Dictionary<string, string> posted, double seconds) =>
        new()
        {
            Id = Guid.CreateVersion7(at),
            Channel = "form",
            Source = source,
            FormKey = form,
            FormEdition = 1,
            At = at,
            Raw = Json.Write(posted),
            State = SingleArrival.Waiting,
            Reasons = Json.Write(
                SpamRules
                    .Rate(new PostTraits(posted.Where(p => p.Key[0] != '_' && !p.Key.StartsWith("consent", StringComparison.Ordinal)).ToDictionary(), false, seconds, 3, 0))
                    .Reasons
            ),
        };
}
