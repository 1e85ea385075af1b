using System.Collections.Immutable;
using DapperLantern.Core.Fields;

namespace DapperLantern.Core.Intake.Forms;

/// <summary>What public pages and the mails behind them say, in every language a form may have. A test holds the table complete.</summary>
public static class FormWords
{
    public static ImmutableArray<string> Languages { get; } = ["en", "de", "fr", "es", "no"];

    // Key, then English, German, French, Spanish, Norwegian.
    private static readonly string[][] Table =
    [
        ["language", "English", "Deutsch", "Français", "Español", "Norsk"],
        [
            "demo",
            "This is a demonstration. The company and its people are invented, and what you write here goes nowhere.",
            "Dies ist eine Vorführung. Firma und Personen sind erfunden, und was Sie hier schreiben, geht nirgendwohin.",
            "Ceci est une démonstration. La société et ses personnes sont inventées, et ce que vous écrivez ici ne part nulle part.",
            "Esto es una demostración. La empresa y sus personas son inventadas, y lo que escriba aquí no sale a ninguna parte.",
            "Dette er en demonstrasjon. Firmaet og menneskene er oppdiktet, og det du skriver her, går ingen steder.",
        ],
        ["send", "Send", "Absenden", "Envoyer", "Enviar", "Send"],
        ["choose", "Please choose", "Bitte wählen", "Choisissez", "Elija", "Velg"],
        ["optional", "optional", "freiwillig", "facultatif", "opcional", "valgfritt"],
        ["thanks", "Thank you. We have it.", "Danke. Es ist angekommen.", "Merci. C\u2019est bien arrivé.", "Gracias. Ha llegado bien.", "Takk. Det er kommet fram."],
        [
            "look-again",
            "Please look at the marked answers. Nothing you wrote is lost.",
            "Bitte sehen Sie die markierten Antworten an. Nichts ist verloren.",
            "Veuillez revoir les réponses marquées. Rien n\u2019est perdu.",
            "Revise las respuestas marcadas. No se ha perdido nada.",
            "Se på de merkede svarene. Ingenting er tapt.",
        ],
        ["answer-needed", "Please answer this.", "Bitte beantworten.", "Veuillez répondre.", "Responda a esto.", "Fyll ut dette."],
        [
            "consent-needed",
            "Without this we cannot take your request.",
            "Ohne dies können wir die Anfrage nicht annehmen.",
            "Sans cet accord, nous ne pouvons pas traiter la demande.",
            "Sin esto no podemos atender la solicitud.",
            "Uten dette kan vi ikke ta imot forespørselen.",
        ],
        ["answer-too-long", "This is too long.", "Das ist zu lang.", "C\u2019est trop long.", "Es demasiado largo.", "Dette er for langt."],
        [
            "email-unreadable",
            "This is not an email address; it needs the form name@place.",
            "Das ist keine Mailadresse; sie hat die Form name@ort.",
            "Ce n\u2019est pas une adresse de courriel : nom@lieu.",
            "No es una dirección de correo: nombre@lugar.",
            "Dette er ikke en e-postadresse: navn@sted.",
        ],
        [
            "phone-unreadable",
            "We cannot dial this; please write it with the country code, as +44 \u2026",
            "Das können wir nicht wählen; bitte mit Landesvorwahl, etwa +49 \u2026",
            "Numéro illisible ; ajoutez l\u2019indicatif du pays, comme +33 \u2026",
            "No podemos marcarlo; escríbalo con prefijo de país, como +34 \u2026",
            "Vi kan ikke ringe dette; skriv det med landkode, som +47 \u2026",
        ],
        [
            "unreadable",
            "We cannot read this answer.",
            "Diese Antwort können wir nicht lesen.",
            "Réponse illisible.",
            "No podemos leer esta respuesta.",
            "Vi kan ikke lese dette svaret.",
        ],
        [
            "no-name",
            "Please give your name or your company.",
            "Bitte nennen Sie Ihren Namen oder Ihre Firma.",
            "Indiquez votre nom ou votre société.",
            "Indique su nombre o su empresa.",
            "Oppgi navn eller firma.",
        ],
        [
            "no-way-to-reach",
            "Please give an email address or a telephone number.",
            "Bitte geben Sie eine Mailadresse oder Telefonnummer an.",
            "Indiquez un courriel ou un téléphone.",
            "Indique un correo o un teléfono.",
            "Oppgi e-post eller telefon.",
        ],
        ["sum", "How much is {0} plus {1}?", "Wie viel ist {0} plus {1}?", "Combien font {0} plus {1} ?", "¿Cuánto es {0} más {1}?", "Hvor mye er {0} pluss {1}?"],
        ["sum-wrong", "Please work it out once more.", "Bitte rechnen Sie noch einmal.", "Veuillez recalculer.", "Calcule otra vez.", "Regn en gang til."],
        [
            "paused",
            "This form is closed at the moment.",
            "Dieses Formular ist zurzeit geschlossen.",
            "Ce formulaire est fermé pour le moment.",
            "Este formulario está cerrado por ahora.",
            "Dette skjemaet er stengt for øyeblikket.",
        ],
        [
            "too-many",
            "Too many posts from your address. Please wait a minute and send again; use your browser\u2019s back button to keep what you wrote.",
            "Zu viele Sendungen von Ihrer Adresse. Bitte eine Minute warten und erneut senden.",
            "Trop d\u2019envois depuis votre adresse. Attendez une minute et renvoyez.",
            "Demasiados envíos desde su dirección. Espere un minuto y envíe de nuevo.",
            "For mange sendinger fra adressen din. Vent et minutt og send igjen.",
        ],
        ["confirm-title", "Confirm your consent", "Einwilligung bestätigen", "Confirmer votre accord", "Confirme su consentimiento", "Bekreft samtykket"],
        ["confirm-button", "Yes, I agree", "Ja, ich willige ein", "Oui, je suis d\u2019accord", "Sí, estoy de acuerdo", "Ja, jeg samtykker"],
        [
            "confirm-done",
            "Thank you. Your consent is kept.",
            "Danke. Ihre Einwilligung ist festgehalten.",
            "Merci. Votre accord est enregistré.",
            "Gracias. Su consentimiento queda registrado.",
            "Takk. Samtykket er registrert.",
        ],
        ["confirm-subject", "Please confirm: {0}", "Bitte bestätigen: {0}", "À confirmer : {0}", "Confirme: {0}", "Bekreft: {0}"],
        [
            "confirm-mail",
            "You agreed to this on our form:\n\n{0}\n\nIt holds once you follow this link:\n{1}\n\nIf it was not you, do nothing.",
            "Sie haben in unserem Formular zugestimmt:\n\n{0}\n\nEs gilt, sobald Sie diesem Link folgen:\n{1}\n\nWaren Sie es nicht, tun Sie nichts.",
            "Vous avez donné cet accord sur notre formulaire :\n\n{0}\n\nIl vaut dès que vous suivez ce lien :\n{1}\n\nSi ce n\u2019était pas vous, ne faites rien.",
            "Usted aceptó esto en nuestro formulario:\n\n{0}\n\nVale en cuanto siga este enlace:\n{1}\n\nSi no fue usted, no haga nada.",
            "Du samtykket til dette i skjemaet vårt:\n\n{0}\n\nDet gjelder når du følger denne lenken:\n{1}\n\nVar det ikke deg, trenger du ikke gjøre noe.",
        ],
        [
            "withdraw-title",
            "What we may write to you about",
            "Worüber wir Ihnen schreiben dürfen",
            "Ce dont nous pouvons vous écrire",
            "Sobre qué podemos escribirle",
            "Hva vi kan skrive til deg om",
        ],
        [
            "withdraw-intro",
            "You agreed to what is listed here. Tick what shall end.",
            "Sie haben dem hier Aufgeführten zugestimmt. Kreuzen Sie an, was enden soll.",
            "Vous avez accepté ce qui suit. Cochez ce qui doit cesser.",
            "Usted aceptó lo que sigue. Marque lo que debe terminar.",
            "Du har samtykket til dette. Kryss av for det som skal opphøre.",
        ],
        [
            "withdraw-none",
            "You have not agreed to anything that could end.",
            "Es gibt keine Einwilligung, die enden könnte.",
            "Il n\u2019y a aucun accord à retirer.",
            "No hay consentimiento que retirar.",
            "Det finnes ikke noe samtykke å trekke tilbake.",
        ],
        ["withdraw-button", "End these", "Dies beenden", "Retirer", "Retirar", "Trekk tilbake"],
        [
            "withdraw-done",
            "Ended. We keep only that you said so.",
            "Beendet. Wir behalten nur, dass Sie es gesagt haben.",
            "C\u2019est retiré. Nous gardons seulement la trace de votre choix.",
            "Retirado. Solo guardamos que usted lo dijo.",
            "Trukket tilbake. Vi beholder bare at du sa det.",
        ],
        [
            "withdraw-mail",
            "What we may write to you about: {0}",
            "Worüber wir Ihnen schreiben dürfen: {0}",
            "Ce dont nous pouvons vous écrire : {0}",
            "Sobre qué podemos escribirle: {0}",
            "Hva vi kan skrive til deg om: {0}",
        ],
        [
            "link-dead",
            "This link does not work any more.",
            "Dieser Link gilt nicht mehr.",
            "Ce lien ne fonctionne plus.",
            "Este enlace ya no funciona.",
            "Denne lenken virker ikke lenger.",
        ],
    ];

    private static readonly Dictionary<string, string[]> ByKey = Table.ToDictionary(r => r[0], r => r[1..]);

    public static IEnumerable<string> Keys => ByKey.Keys;

    /// <summary>A sentence in a language; in English where the language is not one of ours.</summary>
    /// <exception cref="KeyNotFoundException">There is no such sentence.</exception>
    public static string Say(string language, string key, params object[] parts)
    {
        var sentence = ByKey[key][Math.Max(0, Languages.IndexOf(language))];
        return parts.Length == 0 ? sentence : string.Format(null, sentence, parts);
    }

    /// <summary>A problem as the visitor reads it.</summary>
    public static string Say(string language, Problem problem) => Say(language, KeyOf(problem.Code));

    // The visitor is told how to write it; which of several faults it has is for the coordinator.
    private static string KeyOf(string code) =>
        ByKey.ContainsKey(code) ? code
        : code.StartsWith("phone-", StringComparison.Ordinal) ? "phone-unreadable"
        : code.StartsWith("email-", StringComparison.Ordinal) ? "email-unreadable"
        : "unreadable";

    /// <summary>The first language somebody reads (the header Accept-Language, RFC 9110) that the form has; else the form's own.</summary>
    public static string Choose(FormSheet form, string? asked, string? acceptLanguage)
    {
        var offered = form.Languages.ToHashSet();
        var wanted = (acceptLanguage ?? "").Split(',').Select(p => p.Split(';')[0].Trim().ToLowerInvariant()).Select(l => l[..Math.Min(2, l.Length)]);
        return wanted.Prepend(asked ?? "").Select(l => l is "nb" or "nn" ? "no" : l).FirstOrDefault(offered.Contains) ?? form.Language;
    }
}
