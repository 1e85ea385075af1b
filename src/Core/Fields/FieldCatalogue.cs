using System.Collections.Frozen;
using System.Collections.Immutable;
using DapperLantern.Core.Qualifying;

namespace DapperLantern.Core.Fields;

/// <summary>A field the coordinator added; kept beside the built-in ones and used like them.</summary>
/// <param name="Currency">For an amount of money; ISO 4217.</param>
/// <param name="Lands">The record it belongs to once a lead is handed over.</param>
/// <param name="OnLead">False for a field that only those records have.</param>
public sealed record CustomField(string Key, string Label, FieldType Type, bool Personal = false, string Currency = "EUR", Landing Lands = Landing.Deal, bool OnLead = true);

/// <summary>
/// All attributes of a lead. To add a built-in fact, add one line to <see cref="BuiltIn"/> and make a migration with
/// <c>./lantern migration NAME</c>; nothing else needs to know.
/// </summary>
public sealed class FieldCatalogue
{
    private readonly FrozenDictionary<string, FieldDefinition> _byKey;
    private readonly FrozenDictionary<string, FieldDefinition> _around;

    private FieldCatalogue(ImmutableArray<FieldDefinition> fields, ImmutableArray<FieldDefinition> beyond, ImmutableArray<FieldDefinition> around)
    {
        Fields = [.. fields.Select((f, i) => f with { Ordinal = i })];
        Around = [.. around.Select((f, i) => f with { Ordinal = fields.Length + i })];
        _byKey = Fields.ToFrozenDictionary(f => f.Key);
        _around = Around.Where(f => !_byKey.ContainsKey(f.Key)).ToFrozenDictionary(f => f.Key);
        Beyond = beyond;
        Findings = [.. Fields.Where(f => f.Origin == FieldOrigin.Finding)];
        PersonalDate = Fields.FirstOrDefault(f => f is { Origin: FieldOrigin.Custom, Type: FieldType.Date, Personal: true });
    }

    public ImmutableArray<FieldDefinition> Fields { get; }

    /// <summary>The first date of an installation's own that is about a person, such as a date of birth; null when it has none.</summary>
    public FieldDefinition? PersonalDate { get; }

    /// <summary>The answers to the questions of qualifying: weak, confirmed, or unknown.</summary>
    public ImmutableArray<FieldDefinition> Findings { get; }

    /// <summary>Fields that no lead has, only contacts, accounts or deals.</summary>
    public ImmutableArray<FieldDefinition> Beyond { get; }

    /// <summary>What is gathered from around a lead: conditions on the database may ask it, a record by itself does not have it.</summary>
    public ImmutableArray<FieldDefinition> Around { get; }

    /// <summary>The facts a contact, account or deal may have: those that land on it, and its own.</summary>
    public IEnumerable<FieldDefinition> FactsOf(Landing record) => Facts.Concat(Beyond).Where(f => f.Lands == record);

    /// <summary>Every field there is, on whatever record.</summary>
    public IEnumerable<FieldDefinition> All => Fields.Concat(Beyond).Concat(Around);

    /// <exception cref="KeyNotFoundException">There is no such field.</exception>
    public FieldDefinition this[string key] => _byKey[key];

    public FieldDefinition? Find(string key) => _byKey.GetValueOrDefault(key);

    /// <summary>A field that a condition may ask: one of the record, else one gathered from around it; null when there is none.</summary>
    public FieldDefinition? Asked(string key) => Find(key) ?? _around.GetValueOrDefault(key);

    /// <summary>All that conditions may ask of a lead.</summary>
    public IEnumerable<FieldDefinition> Askable => OfLead.Concat(_around.Values.OrderBy(f => f.Ordinal));

    /// <summary>What people and files may fill in.</summary>
    public IEnumerable<FieldDefinition> Facts => Fields.Where(f => f.Origin is FieldOrigin.Fact or FieldOrigin.Custom);

    /// <summary>What a column of a list may go to: facts, and what is said of the arrival itself.</summary>
    public IEnumerable<FieldDefinition> Columns => Fields.Where(f => f.Origin is not (FieldOrigin.System or FieldOrigin.Finding));

    /// <summary>What is kept with a lead: all but what is said of an arrival only.</summary>
    public IEnumerable<FieldDefinition> OfLead => Fields.Where(f => f.Origin != FieldOrigin.Arrival);

    /// <summary>The two values of a yes-or-no field, as five languages write them.</summary>
    private static readonly ImmutableArray<Choice> YesNo =
    [
        new("yes", "Yes", ["y", "true", "1", "x", "ja", "j", "oui", "o", "vrai", "si", "s", "verdadero", "wahr", "sann"]),
        new("no", "No", ["n", "false", "0", "nein", "non", "faux", "nei", "falso", "falsch", "usann"]),
    ];

    private static readonly ImmutableArray<Choice> Languages =
    [
        new("en", "English", ["englisch", "anglais", "ingles", "engelsk", "eng", "en gb", "en us"]),
        new("de", "German", ["deutsch", "allemand", "aleman", "tysk", "ger", "deu", "de de", "de at", "de ch"]),
        new("fr", "French", ["franzosisch", "francais", "frances", "fransk", "fra", "fre", "fr fr", "fr ch", "fr ca"]),
        new("es", "Spanish", ["spanisch", "espagnol", "espanol", "castellano", "spansk", "spa", "es es"]),
        new("pt", "Portuguese", ["portugiesisch", "portugais", "portugues", "portugisisk", "por", "pt pt", "pt br"]),
        new("no", "Norwegian", ["norwegisch", "norvegien", "noruego", "norsk", "nor", "nb", "nn", "nb no", "bokmal"]),
        new("sv", "Swedish", ["schwedisch", "suedois", "sueco", "svensk", "svenska", "swe", "sv se"]),
        new("da", "Danish", ["danisch", "danois", "danes", "dansk", "dan", "da dk"]),
    ];

    private static readonly FrozenSet<string> OfContact = FrozenSet.Create(
        "first_name",
        "last_name",
        "job_title",
        "email",
        "phone",
        "extension",
        "mobile",
        "department",
        "language",
        "decides"
    );

    private static readonly FrozenSet<string> OfAccount = FrozenSet.Create(
        "company",
        "website",
        "industry",
        "sites",
        "employees",
        "country",
        "region",
        "city",
        "postal_code",
        "street",
        "revenue"
    );

    /// <summary>The facts every installation has, in the order in which screens show them.</summary>
    public static ImmutableArray<FieldDefinition> BuiltIn { get; } =
    [
        Fact("first_name", "First name", FieldType.Name, true, "first name|first|given name|given names|forename|vorname|rufname|prenom|nombre|nombre de pila|fornavn"),
        Fact(
            "last_name",
            "Last name",
            FieldType.Name,
            true,
            "last name|last|surname|family name|zuname|nachname|familienname|nom|nom de famille|apellido|apellidos|etternavn|efternavn"
        ),
        Fact("job_title", "Job title", FieldType.Text, true, "job title|title|position|role|job|funktion|stellung|beruf|poste|fonction|cargo|puesto|stilling|tittel|rolle"),
        Fact("department", "Department", FieldType.Text, false, "department|dept|division|abteilung|bereich|service|departement|departamento|area|avdeling"),
        Fact(
            "company",
            "Company",
            FieldType.Text,
            false,
            "company|company name|organisation|organization|organisation name|organization name|name of company|company organisation|company organization|firm|business|employer|account|firma|firmenname|unternehmen|societe|entreprise|raison sociale|empresa|compania|organizacion|bedrift|selskap|exhibitor"
        ),
        Fact(
            "website",
            "Website",
            FieldType.Domain,
            false,
            "website|web|web site|url|homepage|domain|webseite|internet|site web|site internet|sitio web|pagina web|nettside|hjemmeside"
        ),
        Fact(
            "email",
            "Mail",
            FieldType.Email,
            true,
            "mail|email|e mail|emails|email 1|email 2|e mail 1|e mail 2|work email|business email|email address|e mail address|mail address|e mail adresse|courriel|adresse e mail|adresse email|adresse mail|mel|correo electronico 1|direccion de correo|direccion de correo electronico|e postadresse|correo|correo electronico|epost|e post|e postadresse"
        ),
        Fact(
            "phone",
            "Phone",
            FieldType.Phone,
            true,
            "phone|telephone|tel|fon|phone number|telephone number|telefon|telefonnummer|telefonnr|telefon nr|festnetz|rufnummer|business phone|work phone|office phone|phone 1|phone 2|telephone 1|telephone 2|telefon 1|telefon 2|telefon geschaftlich|telefono 1|telefono 2|numero de telephone|telefono|telf|tlf|direct line"
        ),
        Fact(
            "extension",
            "Extension",
            FieldType.Text,
            true,
            "extension|ext|extn|phone extension|durchwahl|nebenstelle|numero de poste|anexo|extension telefonica|internnummer|linje"
        ),
        Fact(
            "mobile",
            "Mobile",
            FieldType.Phone,
            true,
            "mobile|mobile phone|mobile number|cell|cell phone|handy|mobil|mobiltelefon|mobilnummer|portable|telephone portable|movil|telefono movil|celular"
        ),
        Fact(
            "street",
            "Street",
            FieldType.Text,
            false,
            "street|street address|street number|house number|hausnummer|address|address 1|address 2|address line 1|address line 2|street 1|street 2|strasse|anschrift|adresse|adresse 1|adresse 2|rue|calle|direccion|domicilio|gate|gateadresse|vei"
        ),
        Fact(
            "postal_code",
            "Postal code",
            FieldType.Text,
            false,
            "postal code|postcode|post code|zip|zip code|zip postal code|plz|postleitzahl|code postal|cp|codigo postal|postnummer|postnr"
        ),
        Fact("city", "Place", FieldType.Name, false, "city|town|place|locality|suburb|ort|stadt|wohnort|ville|commune|localite|ciudad|poblacion|localidad|sted|poststed|by"),
        Fact(
            "region",
            "Region or state",
            FieldType.Region,
            false,
            "region|state|province|county|state province|bundesland|kanton|departement region|provincia|comunidad autonoma|estado|fylke|lan"
        ),
        Fact("country", "Country", FieldType.Country, false, "country|country name|country region|nation|land|staat|pays|pais"),
        Fact("language", "Language", FieldType.Choice, true, "language|preferred language|sprache|langue|idioma|lengua|sprak|sprog") with
        {
            Choices = Languages,
        },
        Fact(
            "industry",
            "Industry",
            FieldType.Choice,
            false,
            "industry|sector|line of business|branche|wirtschaftszweig|secteur|secteur d activite|industria|rubro|bransje|naering"
        ),
        Fact(
            "sites",
            "Sites",
            FieldType.Number,
            false,
            "sites|locations|no of sites|number of sites|standorte|anzahl standorte|sites nombre|nombre de sites|emplazamientos|anlegg|antall anlegg"
        ) with
        {
            Counts = true,
        },
        Fact(
            "employees",
            "Staff",
            FieldType.Number,
            false,
            "employees|staff|headcount|no of employees|number of employees|company size|mitarbeiter|anzahl mitarbeiter|mitarbeiterzahl|mitarbeiteranzahl|zahl der mitarbeiter|anzahl der mitarbeiter|beschaftigtenzahl|nombre d employes|nombre de salaries|numero de trabajadores|beschaftigte|effectif|salaries|empleados|numero de empleados|plantilla|ansatte|antall ansatte"
        ) with
        {
            Counts = true,
        },
        Fact(
            "revenue",
            "Revenue",
            FieldType.Money,
            false,
            "revenue|annual revenue|turnover|sales|umsatz|jahresumsatz|chiffre d affaires|ca annuel|facturacion|ventas|ingresos|omsetning|arlig omsetning"
        ) with
        {
            Currency = "EUR",
        },
        Fact(
            "wants",
            "Wants",
            FieldType.Text,
            false,
            "wants|interest|interests|interested in|product|products|enquiry|request|interesse|interessen|anfrage|wunsch|produkt|produkte|interet|interets|produit|produits|demande|interes|intereses|producto|productos|interesser|onsker|produkter"
        ),
        Fact(
            "needed_by",
            "Needed by",
            FieldType.Date,
            false,
            "needed by|required by|wanted by|needed|deadline|bedarf bis|benotigt bis|termin|besoin avant|echeance|necesario para|fecha limite|trengs innen|frist"
        ),
        Fact(
            "decides",
            "Decides on buying",
            FieldType.YesNo,
            true,
            "decides|decides on buying|decision maker|decision taker|can decide|entscheider|entscheidet|decideur|decide|decisor|decide la compra|beslutningstaker|bestemmer"
        ) with
        {
            Choices = YesNo,
        },
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
        System("next_step_at", "Next step", FieldType.Date),
        System("last_sign_at", "Last sign", FieldType.Date),
        System("wake_at", "Wakes", FieldType.Date),
        System("state_reason", "Reason disqualified", FieldType.Choice) with
        {
            Choices = Leads.LeadState.Reasons,
        },
        System("silent_days", "Silent days before the last sign", FieldType.Number),
    ];

    /// <summary>The numbers that are whole and kept as such.</summary>
    public static FrozenSet<string> WholeNumbers { get; } = FrozenSet.Create("fit", "engagement", "silent_days");

    /// <summary>Keys of the value lists that fields around a lead take their choices from.</summary>
    public const string Purposes = "consent-purposes";

    /// <summary>Begins the keys of the fields that say what somebody agreed to, one for each purpose.</summary>
    public const string Consent = "consent_";

    /// <summary>Key of the value list that holds the questions pipelines ask beyond the standard ones: key and label.</summary>
    public const string OwnQuestions = "questions";

    private static IEnumerable<FieldDefinition> MakeFindings(IReadOnlyDictionary<string, ImmutableArray<Choice>> lists) =>
        Questions
            .Standard.Select(q => (q.Key, q.Label))
            .Concat(lists.GetValueOrDefault(OwnQuestions, []).Select(q => (q.Key, q.Label)))
            .DistinctBy(q => q.Key)
            .Select(q => new FieldDefinition(Questions.FieldOf(q.Key), q.Label, FieldType.Choice, FieldOrigin.Finding) { Choices = Questions.Certainties });

    // What an installation asks of the surroundings of a lead. How each is gathered stands with the SQL reading.
    private static IEnumerable<FieldDefinition> MakeAround(IReadOnlyDictionary<string, ImmutableArray<Choice>> lists) =>
        [
            Gathered("tag", "Tag", FieldType.Choice, true),
            Gathered("team", "Team of the owner", FieldType.Choice, true),
            Gathered("in_campaign", "Member of campaign", FieldType.Choice, true),
            Gathered("responded", "What they did in a campaign", FieldType.Choice, true) with
            {
                Choices = Campaigns.CampaignResponse.Choices,
            },
            Gathered("event", "Sign", FieldType.Choice, true),
            Gathered("customer", "Customer", FieldType.YesNo) with
            {
                Choices = YesNo,
            },
            Gathered("last_call_at", "Last call", FieldType.Date),
            Gathered("calls", "Calls", FieldType.Number),
            Gathered("said", "Notes and calls", FieldType.Text, true),
            .. lists.GetValueOrDefault(Purposes, []).Select(p => Gathered(Consent + p.Key, $"Consent: {p.Label}", FieldType.Choice) with { Choices = ConsentStates }),
        ];

    private static readonly ImmutableArray<Choice> ConsentStates = [new("given", "Given"), new("withdrawn", "Withdrawn")];

    /// <summary>Key of the field that says how a row's person answered to the delivery's campaign.</summary>
    public const string Response = "campaign_response";

    /// <summary>Key of the field whose text becomes a note in the story of the lead.</summary>
    public const string Note = "note";

    /// <summary>Longest note a list may bring, in UTF-16 units.</summary>
    public const int LongestNote = 5000;

    /// <summary>What a list may say of a row that is not kept with the lead.</summary>
    public static ImmutableArray<FieldDefinition> OfArrival { get; } =
    [
        new(Response, "Response to the campaign", FieldType.Choice, FieldOrigin.Arrival)
        {
            Choices = Campaigns.CampaignResponse.Choices,
            Headings =
            [
                .. "campaign response|response|response status|member status|campaign status|attendance|reaktion|rucklauf|teilnahme|antwort|reponse|participation|respuesta|asistencia|respons|deltakelse".Split(
                    '|'
                ),
            ],
        },
        new(Note, "Note", FieldType.Text, FieldOrigin.Arrival, Personal: true)
        {
            Longest = LongestNote,
            Headings =
            [
                .. "note|notes|comment|comments|message|remark|remarks|description|memo|bemerkung|bemerkungen|notiz|notizen|anmerkung|anmerkungen|kommentar|kommentare|nachricht|beschreibung|commentaire|commentaires|remarque|remarques|observations|comentario|comentarios|mensaje|observaciones|nota|notas|melding|merknad|merknader|notat|notater|kommentarer".Split(
                    '|'
                ),
            ],
        },
    ];

    /// <summary>Builds the catalogue of an installation.</summary>
    /// <param name="valueLists">Allowed values by field key; a key that names no choice field is ignored.</param>
    /// <param name="custom">Fields added by the coordinator, after the built-in facts.</param>
    public static FieldCatalogue Build(IReadOnlyDictionary<string, ImmutableArray<Choice>>? valueLists = null, IEnumerable<CustomField>? custom = null)
    {
        var added = (custom ?? []).ToLookup(c => c.OnLead, c => WithValues(Define(c), valueLists));
        var lists = valueLists ?? new Dictionary<string, ImmutableArray<Choice>>();
        var fields = BuiltIn.Concat(added[true]).Concat(BySystem).Concat(MakeFindings(lists)).Concat(OfArrival).Select(f => WithValues(f, valueLists));
        var around = MakeAround(lists).Select(f => WithValues(f, valueLists));
        return new FieldCatalogue([.. fields], [.. added[false]], [.. around]);
    }

    private static FieldDefinition Define(CustomField field) =>
        new(field.Key, field.Label, field.Type, FieldOrigin.Custom, field.Personal)
        {
            Headings = [Folding.Heading(field.Label)],
            Currency = field.Type == FieldType.Money ? field.Currency : "",
            Choices = field.Type == FieldType.YesNo ? YesNo : [],
            Lands = field.Lands,
        };

    private static FieldDefinition WithValues(FieldDefinition field, IReadOnlyDictionary<string, ImmutableArray<Choice>>? lists) =>
        lists is not null && lists.TryGetValue(field.Key, out var values) ? field with { Choices = values } : field;

    private static FieldDefinition Fact(string key, string label, FieldType type, bool personal, string headings) =>
        new(key, label, type, FieldOrigin.Fact, personal)
        {
            Headings = [.. headings.Split('|').Concat(ForeignHeadings.Of(key)).Distinct()],
            Lands =
                OfContact.Contains(key) ? Landing.Contact
                : OfAccount.Contains(key) ? Landing.Account
                : Landing.Deal,
        };

    private static FieldDefinition Gathered(string key, string label, FieldType type, bool many = false) => new(key, label, type, FieldOrigin.Around) { Many = many };

    private static FieldDefinition System(string key, string label, FieldType type) => new(key, label, type, FieldOrigin.System);
}
