using DapperLantern.Core.Fields;
using DapperLantern.Core.Intake;

namespace DapperLantern.App.Leads;

/// <summary>Facts as a person or a program writes them, read by the catalogue.</summary>
public static class WrittenFacts
{
    /// <summary>The values, and the first problem met; null when all could be read. A blank is unknown.</summary>
    public static (RecordValues Facts, Problem? Problem) Read(Dictionary<string, string>? written, FieldCatalogue catalogue)
    {
        var facts = new RecordValues(catalogue);
        var country = written?.GetValueOrDefault("country") is { } c ? Countries.Find(c) : null;
        foreach (var (key, text) in written ?? [])
        {
            if (catalogue.Facts.FirstOrDefault(f => f.Key == key) is not { } field)
                return (facts, new Problem("field-unknown", key, key));
            var read = FieldReader.Read(field, text, country);
            if (read.Problem is { } problem)
                return (facts, problem);
            facts[key] = read.Value;
            // A telephone with its extension fills both, whichever of the two is written first.
            if (written!.GetValueOrDefault("extension", "").Length == 0 || field.Type != FieldType.Phone)
                Beside.FillBlank(facts, field, read);
        }
        return (facts, null);
    }
}
