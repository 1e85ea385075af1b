using System.Collections.Frozen;
using System.Collections.Immutable;

namespace DapperLantern.Core.Fields;

/// <summary>A field the coordinator added; kept beside the built-in ones and used like them.</summary>
public sealed record CustomField(string Key, string Label, FieldType Type, bool Personal = false);

/// <summary>
/// All attributes of a lead. To add a built-in fact, add one line to <see cref="BuiltIn"/> and make a migration with
/// <c>./lantern migration NAME</c>; nothing else needs to know.
/// </summary>
public sealed class FieldCatalogue
{
    private readonly FrozenDictionary<string, FieldDefinition> _byKey;

    private FieldCatalogue(ImmutableArray<FieldDefinition> fields)
    {
        Fields = [.. fields.Select((f, i) => f with { Ordinal = i })];
        _byKey = Fields.ToFrozenDictionary(f => f.Key);
    }

    public ImmutableArray<FieldDefinition> Fields { get; }

    /// <exception cref="KeyNotFoundException">There is no such field.</exception>
    public FieldDefinition this[string key] => _byKey[key];

    public FieldDefinition? Find(string key) => _byKey.GetValueOrDefault(key);

    /// <summary>What people and files may fill in.</summary>
    public IEnumerable<FieldDefinition> Facts => Fields.Where(f => f.Origin != FieldOrigin.System);

    /// <summary>The facts every installation has, in the order in which screens show them.</summary>
    public static ImmutableArray<FieldDefinition> BuiltIn { get; } =
    [
        Fact("first_name", "First name", FieldType.Name, true, "first name", "given name", "forename", "vorname", "prenom", "nombre", "fornavn"),
        Fact("last_name", "Last name", FieldType.Name, true, "last name", "surname", "family name", "nachname", "nom", "apellido", "apellidos", "etternavn"),
        Fact("job_title", "Job title", FieldType.Text, true, "job title", "title", "position", "role", "funktion", "poste", "cargo", "stilling"),
        Fact(
            "company",
            "Company",
            FieldType.Text,
            false,
            "company",
            "company name",
            "organisation",
            "organization",
            "firm",
            "firma",
            "societe",
            "entreprise",
            "empresa",
            "bedrift",
            "exhibitor"
        ),
        Fact("website", "Website", FieldType.Domain, false, "website", "web", "web site", "url", "homepage", "site web", "sitio web", "nettside"),
        Fact("email", "Mail", FieldType.Email, true, "mail", "email", "e mail", "email address", "e mail address", "courriel", "correo", "epost", "e post"),
        Fact("phone", "Phone", FieldType.Phone, true, "phone", "telephone", "tel", "mobile", "phone number", "telefon", "telefono", "mobil", "cell"),
        Fact("country", "Country", FieldType.Country, false, "country", "land", "pays", "pais", "nation"),
        Fact("region", "Region or state", FieldType.Region, false, "region", "state", "province", "county", "bundesland", "provincia", "fylke"),
        Fact("city", "Place", FieldType.Name, false, "city", "town", "place", "ort", "stadt", "ville", "ciudad", "sted", "by"),
        Fact("postal_code", "Postal code", FieldType.Text, false, "postal code", "postcode", "zip", "zip code", "plz", "code postal", "codigo postal", "postnummer"),
        Fact("industry", "Industry", FieldType.Choice, false, "industry", "sector", "branche", "secteur", "sector", "bransje"),
        Fact("sites", "Sites", FieldType.Number, false, "sites", "locations", "no of sites", "number of sites", "standorte", "anlegg"),
        Fact("employees", "Staff", FieldType.Number, false, "employees", "staff", "headcount", "mitarbeiter", "effectif", "empleados", "ansatte"),
        Fact("wants", "Wants", FieldType.Text, false, "wants", "interest", "interested in", "product", "products", "comment", "comments", "notes", "message"),
    ];

    /// <summary>What the program knows of a lead by itself.</summary>
    public static ImmutableArray<FieldDefinition> BySystem { get; } =
    [
        System("state", "State", FieldType.Choice) with
        {
            Choices = Leads.LeadState.Choices,
        },
        System("source", "Source", FieldType.Choice),
        System("campaign", "Campaign", FieldType.Choice),
        System("owner", "Owner", FieldType.Choice),
        System("fit", "Fit", FieldType.Number),
        System("engagement", "Engagement", FieldType.Number),
        System("next_move", "Next move", FieldType.Choice) with
        {
            Choices = Scoring.NextMove.Choices,
        },
        System("created_at", "Came in", FieldType.Date),
        System("last_touch_at", "Last touch", FieldType.Date),
        System("clock_due_at", "Answer by", FieldType.Date),
    ];

    /// <summary>Builds the catalogue of an installation.</summary>
    /// <param name="valueLists">Allowed values by field key; a key that names no choice field is ignored.</param>
    /// <param name="custom">Fields added by the coordinator, after the built-in facts.</param>
    public static FieldCatalogue Build(IReadOnlyDictionary<string, ImmutableArray<Choice>>? valueLists = null, IEnumerable<CustomField>? custom = null)
    {
        var added = (custom ?? []).Select(c => new FieldDefinition(c.Key, c.Label, c.Type, FieldOrigin.Custom, c.Personal) { Headings = [Folding.Heading(c.Label)] });
        var fields = BuiltIn.Concat(added).Concat(BySystem).Select(f => WithValues(f, valueLists));
        return new FieldCatalogue([.. fields]);
    }

    private static FieldDefinition WithValues(FieldDefinition field, IReadOnlyDictionary<string, ImmutableArray<Choice>>? lists) =>
        lists is not null && lists.TryGetValue(field.Key, out var values) ? field with { Choices = values } : field;

    private static FieldDefinition Fact(string key, string label, FieldType type, bool personal, params string[] headings) =>
        new(key, label, type, FieldOrigin.Fact, personal) { Headings = [.. headings] };

    private static FieldDefinition System(string key, string label, FieldType type) => new(key, label, type, FieldOrigin.System);
}
