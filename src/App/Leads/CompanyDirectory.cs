using System.Collections.Frozen;
using DapperLantern.App.Data;
using DapperLantern.App.Setup;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Handover;

namespace DapperLantern.App.Leads;

/// <summary>What the directory says of a company. Revenue in EUR a year.</summary>
public sealed record ListedCompany(string Domain, string Name, string Industry, int Employees, decimal Revenue, string Country, string Region, string City);

/// <summary>
/// A stand-in for a company directory reached over the network: a shipped file of invented companies, by web domain. It fills blanks only; what
/// it filled says so, and gives way to whatever a person says later.
/// </summary>
public sealed class CompanyDirectory
{
    /// <summary>In a fact's provenance.</summary>
    public const string From = "the company directory";

    private readonly FrozenDictionary<string, ListedCompany> _byDomain;

    /// <param name="demo">The invented companies are known in the demo alone.</param>
    public CompanyDirectory(DemoSettings demo)
    {
        if (!demo.Enabled)
        {
            _byDomain = FrozenDictionary<string, ListedCompany>.Empty;
            return;
        }
        using var file = new StreamReader(typeof(CompanyDirectory).Assembly.GetManifestResourceStream("companies.json")!);
        _byDomain = Json.Read<List<ListedCompany>>(file.ReadToEnd()).ToFrozenDictionary(c => c.Domain);
    }

    /// <summary>Fills what is blank; gives the keys of the fields filled, none for a company it does not know.</summary>
    public IReadOnlyList<string> Fill(RecordValues facts)
    {
        if (!_byDomain.TryGetValue(Organisation.DomainOf(facts), out var company))
            return [];
        var filled = new List<string>();
        foreach (var (key, value) in Values(company))
            if (!facts[key].IsKnown && Fits(facts, key, value, company))
            {
                facts[key] = value;
                filled.Add(key);
            }
        return filled;
    }

    // No place beside another country; no value that its list does not have; no amount in another currency than the directory's euros.
    private static bool Fits(RecordValues facts, string key, FieldValue value, ListedCompany company) =>
        key is "region" or "city" ? facts.Text("country") == company.Country
        : key == "revenue" ? facts.Catalogue[key].Currency == BuiltInFields.UsualCurrency
        : facts.Catalogue[key] is not { Type: FieldType.Choice } field || field.Choices.Any(c => c.Key == value.ToString());

    private static IEnumerable<(string Key, FieldValue Value)> Values(ListedCompany company) =>
        [
            ("company", FieldValue.Of(company.Name)),
            ("industry", FieldValue.Of(company.Industry)),
            ("employees", FieldValue.Of(company.Employees)),
            ("revenue", FieldValue.Of(company.Revenue)),
            ("country", FieldValue.Of(company.Country)),
            ("region", FieldValue.Of(company.Region)),
            ("city", FieldValue.Of(company.City)),
        ];
}
