using DapperLantern.Core.Fields;

namespace DapperLantern.Core.Intake;

/// <summary>Keeps what stood beside a value: the name beside an email address, the extension of a telephone number. It fills blanks only.</summary>
public static class Beside
{
    /// <summary>The facts that the text beside a value of <paramref name="field"/> says, by field key: of a person or of a company.</summary>
    public static IEnumerable<(string Field, string Written)> Facts(FieldDefinition field, ReadResult read) =>
        (field.Type, read.Beside) switch
        {
            (_, null) => [],
            (FieldType.Email, var name) => Composites.Find(Composites.FullName)!.TakeApart(name, null),
            (FieldType.Phone, var extension) when field.Key == "phone" => [("extension", extension)],
            _ => [],
        };

    /// <summary>Fills what is not known yet; a name only where neither part of one is known.</summary>
    public static void FillBlank(RecordValues values, FieldDefinition field, ReadResult read)
    {
        if (read.Beside is null)
            return;
        var named = values["first_name"].IsKnown || values["last_name"].IsKnown;
        foreach (var (key, written) in Facts(field, read).ToList())
            if (!values[key].IsKnown && !(named && key is "first_name" or "last_name"))
                values[key] = FieldReader.Read(values.Catalogue[key], written).Value;
    }
}
