using System.Collections.Immutable;
using DapperLantern.Core.Fields;
using NodaTime;

namespace DapperLantern.Core.Tests;

/// <summary>Values the tests share: one catalogue, one moment, quick records.</summary>
public static class Sample
{
    public static Instant Now { get; } = Instant.FromUtc(2026, 11, 23, 12, 0);

    /// <summary>The folder everything lies in.</summary>
    public static string Root { get; } = FindRoot();

    public static FieldCatalogue Catalogue { get; } =
        FieldCatalogue.Build(
            new Dictionary<string, ImmutableArray<Choice>>
            {
                ["industry"] = [new Choice("fish_farming", "Fish farming", ["aquaculture", "fischzucht"]), new Choice("port", "Port or harbour", ["harbour"])],
            },
            [new CustomField("water_body", "Water body", FieldType.Text)]
        );

    public static RecordValues Record(params (string Field, object? Value)[] values)
    {
        var record = new RecordValues(Catalogue);
        foreach (var (field, value) in values)
            record[field] = value switch
            {
                string text => FieldValue.Of(text),
                int number => FieldValue.Of(number),
                Instant moment => FieldValue.Of(moment),
                _ => FieldValue.Unknown,
            };
        return record;
    }

    private static string FindRoot()
    {
        var folder = AppContext.BaseDirectory;
        while (!File.Exists(Path.Combine(folder, "DapperLantern.slnx")))
            folder = Path.GetDirectoryName(folder)!;
        return folder;
    }
}
