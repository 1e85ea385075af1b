using DapperLantern.App.Setup;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Scoring;
using NodaTime;

namespace DapperLantern.App.Demo;

/// <summary>An invented organisation.</summary>
public sealed record DemoCompany(string Country, string Industry, string Name, string Domain, string City, string? Region, int Sites, int Staff);

/// <summary>An invented lead with what it did.</summary>
public sealed record DemoLead(Guid Id, DateTime At, string Source, RecordValues Facts, List<LeadEvent> Events);

/// <summary>Invents leads from <see cref="DemoNames"/>. The same seed and the same moment give the same leads.</summary>
public sealed class DemoPeople(DemoNames names, FieldCatalogue catalogue, DateTime now, int seed)
{
    private const int Days = 540;
    private static readonly (string Source, int Weight)[] Sources =
    [
        ("form-guide", 24),
        ("form-survey", 12),
        ("form-talk", 9),
        ("list-expo", 8),
        ("list-webinar", 12),
        ("list-circular", 10),
        ("mailbox", 11),
        ("telephone", 5),
        ("website", 9),
    ];
    private static readonly string[] Later = ["note.opened", "note.opened", "page.viewed", "page.viewed", "page.viewed", "call.reached", "form.price_guide", "webinar.attended"];

    private readonly Random _random = new(seed);
    private readonly HashSet<string> _mails = [];

    public List<DemoCompany> Companies(int count)
    {
        var companies = new Dictionary<string, DemoCompany>();
        while (companies.Count < count)
        {
            var country = Weighted(names.Places.Select(p => (p.Key, p.Value.Weight)));
            var place = names.Places[country];
            var industry = Pick([.. names.Kinds.Keys, "fish_farming", "fish_farming", "water_utility"]);
            var at = _random.Next(place.Cities.Length);
            var stem = companies.Count % 3 == 0 ? place.Cities[at] : Pick(place.Stems);
            var name = $"{stem} {Pick(names.Kinds[industry])}";
            var domain = Folding.Heading(name).Replace(" ", "", StringComparison.Ordinal) + ".example";
            companies.TryAdd(domain, new DemoCompany(country, industry, $"{name} {place.Legal}", domain, place.Cities[at], place.Regions?[at], Sites(), Staff()));
        }
        return [.. companies.Values];
    }

    /// <summary>Leads in the order in which they came in.</summary>
    public List<DemoLead> Leads(IReadOnlyList<DemoCompany> companies, int count)
    {
        var leads = new List<DemoLead>();
        while (leads.Count < count)
        {
            var age = leads.Count < 22 ? _random.NextDouble() * 1.4 : Days * Math.Pow(_random.NextDouble(), 1.25);
            leads.Add(Lead(leads.Count % 14 == 5 ? null : companies[_random.Next(companies.Count)], now.AddDays(-age)));
        }
        return [.. leads.OrderBy(l => l.At)];
    }

    private DemoLead Lead(DemoCompany? company, DateTime at)
    {
        var country = company?.Country ?? Pick(["GB", "SE", "US", "DE"]);
        var place = names.Places[country];
        var (first, last) = (Pick(place.First), Pick(place.Last));
        var facts = new RecordValues(catalogue);
        void Set(string key, string? value, int percent)
        {
            if (_random.Next(100) < percent)
                facts[key] = FieldValue.Of(value);
        }
        Set("first_name", first, 100);
        Set("last_name", last, 100);
        Set("email", Mail(first, last, company?.Domain ?? "pondmail.example"), 100);
        Set("phone", Phone(country), 62);
        Set("country", country, 97);
        Set("city", company?.City ?? Pick(place.Cities), 70);
        Set("interest", Pick(names.Wants), 75);
        if (company is null)
            Set("industry", "private", 100);
        else
            AddCompany(facts, company, Set);
        var source = Weighted(Sources);
        return new DemoLead(Guid.CreateVersion7(at), Micro(at), source, facts, Events(source, at));
    }

    private void AddCompany(RecordValues facts, DemoCompany company, Action<string, string?, int> set)
    {
        set("company", company.Name, 100);
        set("website", company.Domain, 60);
        set("industry", company.Industry, 86);
        set("region", company.Region, 85);
        set("job_title", Pick(names.Titles), 84);
        if (_random.Next(100) < 62)
            facts["sites"] = FieldValue.Of(company.Sites);
        if (_random.Next(100) < 55)
            facts["employees"] = FieldValue.Of(company.Staff);
    }

    // The first event is the arrival itself; it gets its kind from the source when the lead is admitted.
    private List<LeadEvent> Events(string source, DateTime at)
    {
        var kinds = new Dictionary<string, string>
        {
            ["form-guide"] = "form.price_guide",
            ["form-survey"] = "form.survey",
            ["form-talk"] = "form.talk",
            ["list-expo"] = "stand.visit",
            ["list-webinar"] = "webinar.attended",
            ["list-circular"] = "circular.answered",
            ["mailbox"] = "enquiry",
            ["telephone"] = "call.reached",
            ["website"] = "page.viewed",
        };
        var events = new List<LeadEvent> { new(kinds[source], Moment(at)) };
        var keen = _random.NextDouble() < 0.45 ? 14 : 5;
        var last = at;
        for (var left = _random.Next(keen); left > 0; left--)
        {
            last = last.AddDays(_random.NextDouble() * 14);
            if (last < now)
                events.Add(Activity(Pick(Later), last));
        }
        if (_random.Next(40) == 0 && last < now.AddDays(-140))
            events.Add(new LeadEvent("form.price_guide", Moment(now.AddDays(-_random.NextDouble() * 6))));
        return events;
    }

    private static LeadEvent Activity(string kind, DateTime at) => new(kind, Moment(at), kind == "page.viewed" ? Pages[(int)(at.Ticks / 97 % Pages.Length)] : "");

    private static readonly string[] Pages = ["/skerry", "/probes", "/prices/2026", "/calibration", "/about"];

    private string Mail(string first, string last, string domain)
    {
        var name = $"{Folding.Heading(first)}.{Folding.Heading(last)}".Replace(" ", "", StringComparison.Ordinal);
        var mail = $"{name}@{domain}";
        for (var n = 2; !_mails.Add(mail); n++)
            mail = $"{name}{n}@{domain}";
        return mail;
    }

    // Ranges reserved for fiction; countries without one use the United Kingdom's.
    private string Phone(string country) =>
        country switch
        {
            "US" or "CA" => $"+1{Pick(["251", "503", "218", "409", "814", "902"])}55501{_random.Next(100):00}",
            "DE" => $"+493023125{_random.Next(1000):000}",
            "SE" => $"+468465004{_random.Next(100):00}",
            "IE" => $"+3532091{_random.Next(10)}{_random.Next(10000):0000}",
            _ => $"+441632960{_random.Next(1000):000}",
        };

    private int Sites() =>
        _random.Next(10) switch
        {
            < 3 => 1,
            < 6 => _random.Next(2, 5),
            < 9 => _random.Next(5, 21),
            _ => _random.Next(21, 60),
        };

    private int Staff() =>
        _random.Next(10) switch
        {
            < 4 => _random.Next(3, 25),
            < 8 => _random.Next(25, 250),
            _ => _random.Next(250, 2000),
        };

    private string Weighted(IEnumerable<(string Key, int Weight)> options)
    {
        var list = options.ToList();
        var at = _random.Next(list.Sum(o => o.Weight));
        return list.First(o => (at -= o.Weight) < 0).Key;
    }

    private string Pick(string[] options) => options[_random.Next(options.Length)];

    private static DateTime Micro(DateTime at) => at.AddTicks(-(at.Ticks % 10));

    private static Instant Moment(DateTime at) => Data.Moments.ToInstant(Micro(at));
}
