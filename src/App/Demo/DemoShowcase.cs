using DapperLantern.App.Data;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Scoring;

namespace DapperLantern.App.Demo;

/// <summary>A few leads that the documentation and the tests name.</summary>
internal static class DemoShowcase
{
    public static IEnumerable<DemoLead> Leads(FieldCatalogue catalogue, DateTime now)
    {
        yield return Make(
            catalogue,
            now.AddDays(-5),
            "form-guide",
            ["form.price_guide", "call.reached", "note.opened"],
            "Ragna",
            "Sollid",
            "Operations lead",
            "Fjordnær Laks AS",
            "ragna@fjordnaer.example",
            "NO",
            "Brønnøysund",
            "fish_farming",
            6,
            "Skerry S4, oxygen probes"
        );
        yield return Make(
            catalogue,
            now.AddDays(-4),
            "form-survey",
            ["form.survey", "note.opened"],
            "Anders",
            "Lindqvist",
            "Harbour master",
            "Vättervik Hamn AB",
            "anders.lindqvist@vattervikhamn.example",
            "SE",
            "Karlsborg",
            "port",
            3,
            "Skerry S2 buoy"
        );
    }

    private static DemoLead Make(
        FieldCatalogue catalogue,
        DateTime at,
        string source,
        string[] events,
        string first,
        string last,
        string title,
        string company,
        string mail,
        string country,
        string city,
        string industry,
        int sites,
        string interest
    )
    {
        var facts = new RecordValues(catalogue);
        foreach (
            var (key, value) in new[]
            {
                ("first_name", first),
                ("last_name", last),
                ("job_title", title),
                ("company", company),
                ("email", mail),
                ("country", country),
                ("city", city),
                ("industry", industry),
                ("interest", interest),
            }
        )
            facts[key] = FieldValue.Of(value);
        facts["sites"] = FieldValue.Of(sites);
        var moments = events.Select((kind, i) => new LeadEvent(kind, at.AddDays(i * 1.3).ToInstant()));
        return new DemoLead(Guid.CreateVersion7(at), at, source, facts, [.. moments]);
    }
}
