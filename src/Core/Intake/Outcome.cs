using DapperLantern.Core.Fields;

namespace DapperLantern.Core.Intake;

/// <summary>What a row of a delivery becomes. Every row has exactly one: read = new + adds + aside.</summary>
public static class SiftOutcome
{
    public const string New = "new";
    public const string Adds = "adds";
    public const string Aside = "aside";
}

/// <summary>How known values and new values of one lead come together: blanks are filled, nothing is overwritten.</summary>
public static class FillBlanks
{
    /// <summary>The facts that <paramref name="incoming"/> adds to <paramref name="known"/>, in catalogue order; empty when it adds none.</summary>
    public static IEnumerable<(FieldDefinition Field, FieldValue Value)> Additions(RecordValues known, RecordValues incoming) =>
        incoming.Known().Where(k => k.Field.Origin != FieldOrigin.System && !known[k.Field.Ordinal].IsKnown);
}
