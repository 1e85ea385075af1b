using System.Collections.Frozen;
using System.Collections.Immutable;

namespace DapperLantern.Core.Fields;

/// <summary>The fields that every workspace has: a line for each, with the headings that lists have for it.</summary>
public static class BuiltInFields
{
    /// <summary>What amounts are in until the company says its own.</summary>
    public const string UsualCurrency = "EUR";

    /// <summary>The two values of a yes-or-no field, as five languages write them.</summary>
    public static ImmutableArray<Choice> YesNo { get; } =
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

    /// <summary>The facts every workspace has, in the order in which screens show them.</summary>
    public static ImmutableArray<FieldDefinition> Facts { get; } =
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
            "Email",
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
            "Employees",
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
            Currency = UsualCurrency,
        },
        Fact(
            "interest",
            "Interest",
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
        System(Leads.LeadState.SubState, "Sub-state", FieldType.Choice),
    ];

    /// <summary>The numbers that are whole and kept as such.</summary>
    public static FrozenSet<string> WholeNumbers { get; } = FrozenSet.Create("fit", "engagement", "silent_days");

    /// <summary>What a list may say of a row that is not kept with the lead.</summary>
    public static ImmutableArray<FieldDefinition> OfArrival { get; } =
    [
        new(FieldCatalogue.Response, "Response to the campaign", FieldType.Choice, FieldOrigin.Arrival)
        {
            Choices = Campaigns.CampaignResponse.Choices,
            Headings =
            [
                .. "campaign response|response|response status|member status|campaign status|attendance|reaktion|rucklauf|teilnahme|antwort|reponse|participation|respuesta|asistencia|respons|deltakelse".Split(
                    '|'
                ),
            ],
        },
        new(FieldCatalogue.Note, "Note", FieldType.Text, FieldOrigin.Arrival, Personal: true)
        {
            Longest = FieldCatalogue.LongestNote,
            Headings =
            [
                .. "note|notes|comment|comments|message|remark|remarks|description|memo|bemerkung|bemerkungen|notiz|notizen|anmerkung|anmerkungen|kommentar|kommentare|nachricht|beschreibung|commentaire|commentaires|remarque|remarques|observations|comentario|comentarios|mensaje|observaciones|nota|notas|melding|merknad|merknader|notat|notater|kommentarer".Split(
                    '|'
                ),
            ],
        },
    ];

    private static FieldDefinition Fact(string key, string label, FieldType type, bool personal, string headings) =>
        new(key, label, type, FieldOrigin.Fact, personal)
        {
            Headings = [.. headings.Split('|').Concat(ForeignHeadings.Of(key)).Distinct()],
            Lands =
                OfContact.Contains(key) ? TargetRecord.Contact
                : OfAccount.Contains(key) ? TargetRecord.Account
                : TargetRecord.Deal,
        };

    private static FieldDefinition System(string key, string label, FieldType type) => new(key, label, type, FieldOrigin.System);
}
