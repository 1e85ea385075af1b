using System.Collections.Immutable;

namespace DapperLantern.Core.Fields;

/// <summary>
/// Headings of the lists of other lands than those whose five languages the product speaks, for the fields by which people are known. Whole names in one column are left out
/// where the family name stands first.
/// </summary>
public static class ForeignHeadings
{
    // Italian, Portuguese, Dutch, Swedish, Danish, Finnish, Polish, Czech, Slovak, Hungarian, Romanian, Turkish, Russian, Ukrainian, Greek, Japanese, Chinese, Korean.
    private static readonly Dictionary<string, string> Words = new()
    {
        ["first_name"] = "nome|primeiro nome|nome próprio|voornaam|förnamn|etunimi|imię|jméno|křestní jméno|meno|keresztnév|utónév|prenume|ad|adı|имя|ім’я|όνομα|名|이름",
        ["last_name"] =
            "cognome|apelido|sobrenome|achternaam|efternamn|sukunimi|nazwisko|příjmení|priezvisko|vezetéknév|családnév|nume de familie|soyad|soyadı|фамилия|прізвище|επώνυμο|姓|苗字|姓氏|성",
        ["job_title"] =
            "qualifica|ruolo|mansione|functie|befattning|tehtävä|stanowisko|funkce|pozice|pozícia|beosztás|funcție|unvan|ünvan|должность|посада|θέση|役職|職位|职位|직책",
        ["email"] =
            "posta elettronica|indirizzo email|indirizzo e mail|endereço de e mail|correio eletrónico|e mailadres|e postadress|e mailadresse|sähköposti|sähköpostiosoite|adres e mail|adres email|e mailová adresa|e mail cím|adresă de e mail|e posta|eposta|e posta adresi|эл почта|электронная почта|почта|електронна пошта|пошта|ηλεκτρονικό ταχυδρομείο|メールアドレス|メール|電子メール|电子邮件|邮箱|电子邮箱|電子郵件|이메일|메일",
        ["phone"] =
            "telefono|numero di telefono|telefone|número de telefone|telefoon|telefoonnummer|puhelin|puhelinnumero|nr telefonu|numer telefonu|telefonní číslo|telefónne číslo|telefonszám|număr de telefon|telefon no|телефон|номер телефона|тел|номер телефону|τηλέφωνο|電話番号|電話|电话|电话号码|電話號碼|전화|전화번호|n de telephone|no de telephone|numero de telephone|numéro de téléphone|tfno|tlf|tfo",
        ["mobile"] =
            "cellulare|telemóvel|celular|mobiel|mobilnummer|matkapuhelin|telefon komórkowy|komórka|mobilní telefon|mobilný telefón|mobiltelefon|cep telefonu|мобильный|мобильный телефон|мобільний|мобільний телефон|κινητό|携帯|携帯電話|手机|手机号|휴대폰",
        ["company"] =
            "azienda|ditta|società|nome azienda|empresa|nome da empresa|bedrijf|bedrijfsnaam|organisatie|företag|företagsnamn|virksomhed|yritys|nazwa firmy|przedsiębiorstwo|společnost|organizace|spoločnosť|cég|cégnév|companie|societate|şirket|kurum|компания|организация|предприятие|компанія|організація|εταιρεία|会社名|会社|企業名|法人名|公司|公司名称|회사|회사명",
        ["country"] = "paese|nazione|maa|kraj|země|krajina|ország|țară|ţară|ülke|страна|країна|χώρα|国|国名|国家|國家|국가",
        ["city"] =
            "città|comune|località|cidade|localidade|plaats|woonplaats|stad|kaupunki|paikkakunta|postitoimipaikka|miasto|miejscowość|město|obec|mesto|város|település|oraș|oraş|localitate|şehir|город|населённый пункт|населенный пункт|місто|πόλη|市区町村|市町村|都市|城市|도시",
        ["postal_code"] =
            "codice postale|código postal|cep|postcode|postinumero|kod pocztowy|psč|poštovní směrovací číslo|irányítószám|cod poștal|cod poştal|posta kodu|индекс|почтовый индекс|індекс|поштовий індекс|τ κ|郵便番号|邮编|邮政编码|우편번호|c p|cp",
        ["street"] = "via|rua|straat|gata|katuosoite|ulica|ulice|utca|strada|sokak|улица|вулиця|οδός",
    };

    /// <summary>Headings of a field, in comparison form (<see cref="Folding.Heading"/>); none for most fields.</summary>
    public static ImmutableArray<string> Of(string field) => Words.TryGetValue(field, out var words) ? [.. words.Split('|').Select(Folding.Heading).Distinct()] : [];

    /// <summary>The fields that have some.</summary>
    public static IEnumerable<string> Fields => Words.Keys;
}
