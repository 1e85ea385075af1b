using System.Collections.Frozen;
using DapperLantern.Core.Fields;
using NodaTime;

namespace DapperLantern.Core.Matching;

/// <summary>
/// What identifies a person, or the company where no person is named, in comparison form: texts folded by <see cref="Folding"/>, numbers in E.164; a number that may lack digits identifies nobody. Empty
/// text for what is not known. Where they live or work is read from the record only when it is asked for, since most people are like nobody.
/// </summary>
public sealed class Identity(string email, string phone, string firstName, string lastName, string company, string mobile = "")
{
    /// <summary>Keys of the facts that say who somebody is.</summary>
    public static FrozenSet<string> Fields { get; } =
        FrozenSet.Create("email", "phone", "mobile", "first_name", "last_name", "company", "website", "street", "postal_code", "city", "region", "country");

    private readonly RecordValues? _record;
    private string? _first;
    private string? _last;
    private string? _firstSound;
    private string? _lastSound;
    private string? _companyForm;
    private string? _companyLetters;
    private string? _domain;
    private string? _domainLetters;
    private string? _street;
    private string? _postalCode;
    private string? _city;
    private string? _region;
    private string? _country;

    private Identity(RecordValues record)
        : this(
            record.Text("email") ?? "",
            record.Text("phone") ?? "",
            Folding.Plain(record.Text("first_name")),
            Folding.Plain(record.Text("last_name")),
            Folding.Company(record.Text("company")),
            record.Text("mobile") ?? ""
        ) => _record = record;

    public string Email { get; } = email;
    public string Phone { get; } = PhoneReader.Whole(phone);
    public string Mobile { get; } = PhoneReader.Whole(mobile);
    public string FirstName { get; } = firstName;
    public string LastName { get; } = lastName;
    public string Company { get; } = company;

    /// <summary>The web domain of the employer: the website's, else that of a company email address.</summary>
    public string Domain
    {
        get => _domain ??= _record?.Text("website") ?? MailDomains.Company(Email) ?? "";
        init => _domain = value;
    }

    public string Street
    {
        get => _street ??= NameForm.Street(_record?.Text("street"));
        init => _street = value;
    }

    /// <summary>Letters and digits only.</summary>
    public string PostalCode
    {
        get => _postalCode ??= Folding.Plain(_record?.Text("postal_code")).Replace(" ", "", StringComparison.Ordinal);
        init => _postalCode = value;
    }

    public string City
    {
        get => _city ??= NameForm.Of(Folding.Plain(_record?.Text("city")));
        init => _city = value;
    }

    public string Region
    {
        get => _region ??= _record?.Text("region") ?? "";
        init => _region = value;
    }

    /// <summary>ISO 3166-1 code.</summary>
    public string Country
    {
        get => _country ??= _record?.Text("country") ?? "";
        init => _country = value;
    }

    /// <summary>A personal date of an workspace's own, such as a date of birth; the first such field counts.</summary>
    public LocalDate? Born { get; init; }

    /// <summary>The first name with its spellings made one, see <see cref="NameForm"/>; where none is given, what the email address says beside the last name: "marit" or "m".</summary>
    public string First => _first ??= FirstName.Length > 0 ? NameForm.Of(FirstName) : Mailboxes.FirstNameIn(Email, Last);

    /// <summary>The last name with its spellings made one, see <see cref="NameForm"/>.</summary>
    public string Last => _last ??= NameForm.Of(LastName);

    /// <summary>How <see cref="First"/> sounds, see <see cref="NameSound"/>.</summary>
    public string FirstSound => _firstSound ??= NameSound.Of(First);

    /// <summary>How <see cref="Last"/> sounds.</summary>
    public string LastSound => _lastSound ??= NameSound.Of(Last);

    /// <summary>The company with its spellings made one.</summary>
    public string CompanyForm => _companyForm ??= NameForm.Of(Company);

    /// <summary>The same without the spaces between its words.</summary>
    public string CompanyLetters => _companyLetters ??= CompanyForm.Replace(" ", "", StringComparison.Ordinal);

    /// <summary>The name within the web domain, in the form of <see cref="CompanyLetters"/>: "fjordlaks" of "fjord-laks.co.example".</summary>
    public string DomainLetters => _domainLetters ??= NameForm.Of(Folding.Plain(Longest(Domain))).Replace(" ", "", StringComparison.Ordinal);

    private static string Longest(string domain) => domain.Split('.')[..^(domain.Contains('.', StringComparison.Ordinal) ? 1 : 0)].MaxBy(l => l.Length) ?? "";

    public bool IsNamed => FirstName.Length > 0 || LastName.Length > 0;

    /// <summary>The numbers the person is reached by; none, one or two different ones.</summary>
    public IEnumerable<string> Numbers
    {
        get
        {
            if (Phone.Length > 0)
                yield return Phone;
            if (Mobile.Length > 0 && Mobile != Phone)
                yield return Mobile;
        }
    }

    /// <summary>The first of <see cref="Numbers"/>; empty when there is none.</summary>
    public string Number => Phone.Length > 0 ? Phone : Mobile;

    public static Identity Of(RecordValues record) => new(record) { Born = BornOf(record) };

    private static LocalDate? BornOf(RecordValues record)
    {
        if (record.Catalogue.PersonalDate is not { } field || !record[field.Ordinal].IsKnown)
            return null;
        return record[field.Ordinal].Moment.InUtc().Date;
    }
}
