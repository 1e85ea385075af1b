using System.Text.RegularExpressions;
using DapperLantern.Core.Fields;
using PhoneNumbers;

namespace DapperLantern.Core.Intake.Letters;

/// <summary>Takes facts from a letter's signature: who, at which company, by which numbers. What is not plain is left blank.</summary>
public static partial class SignatureReader
{
    /// <summary>What the sender's name and address and the signature say.</summary>
    /// <param name="displayName">The name in the letter's head; empty when there is none.</param>
    public static RecordValues Read(string displayName, string email, string signature, FieldCatalogue catalogue)
    {
        var facts = new RecordValues(catalogue);
        Put(facts, "email", email);
        var lines = signature.Split('\n').Select(FieldReader.Clean).Where(l => l.Length > 0).ToList();
        PutName(facts, displayName, lines);
        PutNumbers(facts, lines);
        if (lines.Select(l => Site().Match(l)).FirstOrDefault(m => m.Success) is { } site)
            Put(facts, "website", site.Value);
        else if (MailDomains.Company(email) is { } domain)
            Put(facts, "website", domain);
        PutCompany(facts, lines);
        return facts;
    }

    private static void PutName(RecordValues facts, string displayName, List<string> lines)
    {
        var shown = displayName.Contains('@', StringComparison.Ordinal) ? "" : FieldReader.Clean(displayName.Trim('"', '\''));
        var signed = lines.Take(2).FirstOrDefault(l => Person().IsMatch(l) && !LegalForms.IsCompany(l)) ?? "";
        foreach (var name in new[] { shown, signed })
            if (name.Length > 0 && !facts["last_name"].IsKnown)
                foreach (var (field, written) in Composites.Find(Composites.FullName)!.TakeApart(name, null))
                    Put(facts, field, written);
    }

    // "M:" and its like are a mobile; any other number is the telephone. The first of each counts; the number tells the country.
    private static void PutNumbers(RecordValues facts, List<string> lines)
    {
        foreach (var match in lines.SelectMany(l => Number().Matches(l)))
        {
            var key = match.Groups["m"].Success ? "mobile" : "phone";
            if (match.Groups["f"].Success || facts[key].IsKnown)
                continue;
            Put(facts, key, match.Groups["n"].Value);
            if (!facts["country"].IsKnown && facts.Text(key) is { } number)
                Put(facts, "country", CountryOf(number));
        }
    }

    // Of code 1, which several countries share, only a number that is assigned tells.
    private static string CountryOf(string number)
    {
        var util = PhoneNumberUtil.GetInstance();
        var parsed = util.Parse(number, null);
        return util.GetRegionCodeForNumber(parsed) ?? (parsed.CountryCode == 1 ? "" : util.GetRegionCodeForCountryCode(parsed.CountryCode));
    }

    // A line with a legal form; else the line that the mail domain spells. What stands between name and company is the job.
    private static void PutCompany(RecordValues facts, List<string> lines)
    {
        var domain = MailDomains.Company(facts.Text("email"))?.Split('.')[0].Replace("-", "", StringComparison.Ordinal) ?? "";
        var at = lines.FindIndex(l => !Number().IsMatch(l) && !l.Contains('@', StringComparison.Ordinal) && LegalForms.StandsIn(l));
        if (at < 0 && domain.Length > 3)
            at = lines.FindIndex(l =>
                !l.Contains('@', StringComparison.Ordinal)
                && !Site().IsMatch(l)
                && Folding.Heading(l).Replace(" ", "", StringComparison.Ordinal) is var plain
                && plain.Length >= domain.Length
                && plain.StartsWith(domain, StringComparison.Ordinal)
            );
        if (at < 0)
            return;
        if (!facts["company"].IsKnown)
            Put(facts, "company", lines[at].Trim(',', '|', ' '));
        var name = Folding.Plain($"{facts.Text("first_name")} {facts.Text("last_name")}");
        var named = lines.FindIndex(l => name.Length > 1 && Folding.Plain(l).StartsWith(name, StringComparison.Ordinal));
        if (named >= 0 && at == named + 2 && lines[named + 1].Length <= 60 && !lines[named + 1].Any(char.IsDigit))
            Put(facts, "job_title", lines[named + 1]);
    }

    private static void Put(RecordValues facts, string key, string written)
    {
        if (FieldReader.Read(facts.Catalogue[key], written, facts.Text("country")) is { Problem: null, Value.IsKnown: true } read)
        {
            facts[key] = read.Value;
            Beside.FillBlank(facts, facts.Catalogue[key], read);
        }
    }

    [GeneratedRegex(
        @"(?:(?<m>\b(?:m|mob|mobile|cell|handy|mobil|mobiltelefon|portable|móvil|movil)\b[.:]?\s*)|(?<f>\b(?:fax|f)\b[.:]\s*)|(?:\b(?:t|tel|phone|telephone|telefon|téléphone|tél|tlf|teléfono)\b[.:]?\s*))?(?<n>(?:\+|00)\d[\d\s().\-/]{6,20}\d)",
        RegexOptions.IgnoreCase
    )]
    private static partial Regex Number();

    [GeneratedRegex(@"(?:https?://|www\.)[^\s,;<>]+", RegexOptions.IgnoreCase)]
    private static partial Regex Site();

    [GeneratedRegex(@"^\p{Lu}[\p{L}'’.\-]+(?: (?:de|da|di|del|der|den|van|von|la|le|y|e|af|av)| \p{Lu}[\p{L}'’.\-]*){1,3}$")]
    private static partial Regex Person();
}
