using DapperLantern.Core.Fields;
using NodaTime;

namespace DapperLantern.Core.Matching;

/// <summary>The look of a pair: at which level of each of <see cref="Comparisons.All"/> it stands, or <see cref="Comparisons.Silent"/>. Four bits each.</summary>
public record struct Levels
{
    private ulong _packed;

    public int this[int comparison]
    {
        readonly get => (int)((_packed >> (comparison * 4)) & 15) - 1;
        set => _packed = (_packed & ~(15UL << (comparison * 4))) | ((ulong)(value + 1) << (comparison * 4));
    }
}

/// <summary>Compares two identities respect by respect. Symmetric: the order of the two does not matter.</summary>
public static class ComparisonVector
{
    private const int ShortestSlip = 4;

    // How two words compare, best first.
    private enum Word
    {
        Same,
        Near,
        Alike,
        Other,
    }

    /// <summary>The levels of a pair.</summary>
    public static Levels Of(Identity a, Identity b)
    {
        var look = new Levels();
        Names(a, b, ref look);
        // Under other names, what a family, a house or an office shares says little. A changed last name leaves a mailbox with whom it was.
        var otherFirst = IsLevel(look, Comparisons.FirstName, "other");
        var otherLast = IsLevel(look, Comparisons.LastName, "other");
        var other = otherFirst || otherLast;
        look[Comparisons.Email] = Level(Comparisons.Email, Email(a, b, otherFirst || (otherLast && look[Comparisons.FirstName] == Comparisons.Silent), !other));
        look[Comparisons.Phone] = Level(Comparisons.Phone, Phone(a, b, other));
        var (organisation, company) = Organisations(a, b);
        look[Comparisons.Organisation] = Level(Comparisons.Organisation, organisation);
        look[Comparisons.Company] = Level(Comparisons.Company, company);
        var shares = other || organisation is "both" or "domain" or "name" or "name_only";
        var street = Street(a.Street, b.Street, shares);
        look[Comparisons.Street] = Level(Comparisons.Street, street);
        // Who lives in the same street lives in the same place.
        var place = Place(a, b, shares || street is "same" or "near");
        if (place == "other" && company is not null and not "other")
            place = "branch";
        look[Comparisons.Place] = Level(Comparisons.Place, place);
        look[Comparisons.Country] = Level(Comparisons.Country, Country(a, b, place, shares));
        look[Comparisons.Born] = Level(Comparisons.Born, Born(a.Born, b.Born));
        return look;
    }

    private static int Level(int comparison, string? key)
    {
        if (key is null)
            return Comparisons.Silent;
        var levels = Comparisons.All[comparison].Levels;
        for (var i = 0; i < levels.Length; i++)
            if (ReferenceEquals(levels[i].Key, key) || levels[i].Key == key)
                return i;
        throw new ArgumentOutOfRangeException(nameof(key), key, "no such level");
    }

    private static bool IsLevel(in Levels look, int comparison, string key) => look[comparison] >= 0 && Comparisons.All[comparison].Levels[look[comparison]].Key == key;

    private static void Names(Identity a, Identity b, ref Levels look)
    {
        var first = First(a.First, b.First);
        var last = Last(a.Last, b.Last);
        look[Comparisons.NameOrder] = Comparisons.Silent;
        if (first is null or "other" && last is null or "other" && Swapped(a, b) is var (f, l))
        {
            (first, last) = (f, l);
            look[Comparisons.NameOrder] = 0;
        }
        if (first == "other" && last is "same" or "part" or "near" && Nicknames.NearlyRelated(a.First, b.First))
            first = "short_slip";
        // Who has only one name may have it in the place of the other.
        if (first is null && last == "other" && Lone(a, b) is { } lone)
        {
            (first, last) = (lone, null);
            look[Comparisons.NameOrder] = 0;
        }
        if (first == "other" && last == "same")
            last = "family";
        look[Comparisons.FirstName] = Level(Comparisons.FirstName, first);
        look[Comparisons.LastName] = Level(Comparisons.LastName, last);
    }

    // Which of the two words is the first name is not known then, so both readings are tried and the same one is taken whoever is asked first.
    private static (string First, string Last)? Swapped(Identity a, Identity b)
    {
        if (a.First.Length == 0 || b.First.Length == 0 || a.Last.Length == 0 || b.Last.Length == 0)
            return null;
        var (one, other) = (Crossed(a, b), Crossed(b, a));
        if (one is not { } x)
            return other;
        if (other is not { } y)
            return one;
        return Rank(x).CompareTo(Rank(y)) <= 0 ? x : y;

        static (string, string)? Crossed(Identity a, Identity b) =>
            (First(a.First, b.Last), Last(a.Last, b.First)) is ("same" or "nickname" or "part" or "near" or "initial", "same" or "part" or "near") crossed
                ? (crossed.Item1, crossed.Item2)
                : null;

        static (int, int) Rank((string First, string Last) names) =>
            (Level(Comparisons.FirstName, names.First) + Level(Comparisons.LastName, names.Last), Level(Comparisons.FirstName, names.First));
    }

    private static string? Lone(Identity a, Identity b)
    {
        var found =
            a.First.Length == 0 && b.First.Length > 0 ? First(a.Last, b.First)
            : b.First.Length == 0 && a.First.Length > 0 ? First(b.Last, a.First)
            : null;
        return found is "same" or "nickname" or "near" ? found : null;
    }

    private static string? First(string a, string b)
    {
        if (a.Length == 0 || b.Length == 0)
            return null;
        if (a == b)
            return "same";
        if (a.Length == 1 || b.Length == 1)
            return a[0] == b[0] || Nicknames.Begins(a.Length > 1 ? a : b, a.Length > 1 ? b[0] : a[0]) ? "initial" : "other";
        if (Nicknames.Related(a, b) || IsShort(a, b))
            return "nickname";
        if (IsPart(a, b))
            return "part";
        var word = Compare(a, b);
        return word switch
        {
            Word.Near => "near",
            Word.Alike => "alike",
            _ when IsShortSlip(a, b) => "alike",
            _ => Initials(a, b) ? "initial"
            : Nicknames.Related(Before(a), Before(b)) ? "nickname"
            : "other",
        };
    }

    private static string? Last(string a, string b)
    {
        if (a.Length == 0 || b.Length == 0)
            return null;
        if (a == b)
            return "same";
        if (IsPart(a, b))
            return "part";
        return Compare(a, b) switch
        {
            Word.Near => "near",
            Word.Alike => "alike",
            _ => "other",
        };
    }

    private static Word Compare(string a, string b)
    {
        if (a == b)
            return Word.Same;
        // Numbers tell things of one name apart.
        if (HasDigit(a) && HasDigit(b) && !SameDigits(a, b))
            return Word.Other;
        var longer = Math.Max(a.Length, b.Length);
        if (Math.Min(a.Length, b.Length) < ShortestSlip)
            return longer <= 5 && Math.Min(a.Length, b.Length) == 3 && TypingDistance.Within(a, b, 1) <= 1 ? Word.Alike : Word.Other;
        var slips = TypingDistance.Within(a, b, longer / 3);
        return slips <= (longer >= 8 ? 2 : 1) ? Word.Near
            : slips <= longer / 3 || Sounds(a, b) ? Word.Alike
            : Word.Other;
    }

    // "mei" and "mi", "joe" and "jo": of two or three letters one is missing.
    private static bool IsShortSlip(string a, string b) =>
        Math.Min(a.Length, b.Length) == 2 && Math.Max(a.Length, b.Length) == 3 && a[0] == b[0] && TypingDistance.Within(a, b, 1) <= 1;

    private static bool Sounds(string a, string b) => a[0] == b[0] && NameSound.Of(a) is { Length: >= 3 } sound && sound == NameSound.Of(b);

    // "kathi" of "katharina", "willi" of "wilhelm": how short forms are made in most languages.
    private static bool IsShort(string a, string b)
    {
        var (low, whole) = a.Length < b.Length ? (a, b) : (b, a);
        var stem =
            low.EndsWith("ie", StringComparison.Ordinal) ? low[..^2]
            : low[^1] is 'i' or 'y' ? low[..^1]
            : low;
        return stem.Length >= 3 && whole.Length > low.Length && whole.StartsWith(stem, StringComparison.Ordinal) && !whole.Contains(' ', StringComparison.Ordinal);
    }

    // "anna" of "anna maria"; "berg" of "sollid berg": a whole word of the other, or its first one.
    private static bool IsPart(string a, string b)
    {
        var (part, whole) = a.Length < b.Length ? (a, b) : (b, a);
        if (part.Length < 2 || part.Length == whole.Length)
            return false;
        var at = whole.IndexOf(part, StringComparison.Ordinal);
        return at >= 0 && (at == 0 || whole[at - 1] == ' ') && (at + part.Length == whole.Length || whole[at + part.Length] == ' ');
    }

    // "j" or "j r" of "jan rune".
    private static bool Initials(string a, string b)
    {
        var (initials, names) = a.Length < b.Length ? (a, b) : (b, a);
        return initials.Length <= 5 && initials.Split(' ').All(i => i.Length == 1) && initials[0] == names[0];
    }

    private static string Before(string name) => name.IndexOf(' ', StringComparison.Ordinal) is var at and > 0 ? name[..at] : name;

    private static string? Email(Identity a, Identity b, bool other, bool alike)
    {
        var (x, y) = (a.Email, b.Email);
        if (x.Length == 0 || y.Length == 0)
            return null;
        if (x == y)
            return Mailboxes.IsShared(x) ? (a.IsNamed && b.IsNamed ? "office" : "nobody")
                : !other ? "same"
                : a.Last.Length > 0 && a.Last == b.Last && MailDomains.Company(x) is not null ? "firm"
                : "family";
        if (Mailboxes.IsShared(x) || Mailboxes.IsShared(y))
            return null;
        var (local, of) = (Mailboxes.LocalPart(x), Mailboxes.LocalPart(y));
        // Numbers tell people of one name apart, so a digit's difference is no slip.
        var slip = !other && Math.Min(local.Length, of.Length) >= ShortestSlip && SameDigits(x, y) && TypingDistance.Within(x, y, 1) <= 1;
        if (slip)
            return "near";
        // A company gives each a mailbox, so two there are more likely two people's.
        if (MailDomains.Company(x) is { } company && company == MailDomains.Company(y))
            return "beside";
        if (local != of || local.Length < 5)
            return "other";
        // An address made of a name says nothing that the names have not said.
        return !alike || IsMadeOf(local, a) || IsMadeOf(local, b) ? null : "local";
    }

    private static bool HasDigit(string text)
    {
        foreach (var letter in text)
            if (char.IsDigit(letter))
                return true;
        return false;
    }

    // True where the digits of both are the same ones in the same order, or there are none.
    private static bool SameDigits(string a, string b)
    {
        for (int i = 0, j = 0; ; i++, j++)
        {
            while (i < a.Length && !char.IsDigit(a[i]))
                i++;
            while (j < b.Length && !char.IsDigit(b[j]))
                j++;
            if (i == a.Length || j == b.Length)
                return i == a.Length && j == b.Length;
            if (a[i] != b[j])
                return false;
        }
    }

    private static bool IsMadeOf(string local, Identity who)
    {
        var form = NameForm.Of(Folding.Plain(local));
        if ((who.Last.Length >= 3 && form.Contains(who.Last, StringComparison.Ordinal)) || (who.First.Length >= 3 && form.Contains(who.First, StringComparison.Ordinal)))
            return true;
        // Mail systems drop the letters they do not know: "jos.trrdini" of José Trördini, "msrensen" of Mia Sørensen.
        if (who.First.Length == 0 || who.Last.Length == 0)
            return false;
        var letters = string.Concat(form.Where(char.IsAsciiLetter));
        return IsNearly(letters, who.First + who.Last) || IsNearly(letters, who.First[..1] + who.Last) || IsNearly(letters, who.Last + who.First) || IsNearly(letters, who.Last);
    }

    // A third of it at most, and what is left of a short one could be anybody's.
    private static bool IsNearly(string letters, string name) => name.Length >= 6 && Math.Min(3, name.Length / 3) is var most && TypingDistance.Within(letters, name, most) <= most;

    private static string? Phone(Identity a, Identity b, bool other)
    {
        if (a.Number.Length == 0 || b.Number.Length == 0)
            return null;
        foreach (var x in a.Numbers)
        foreach (var y in b.Numbers)
            if (x == y)
                return other ? "family"
                    : a.Last.Length > 0 && b.Last.Length > 0 && (a.First.Length == 0 || b.First.Length == 0) ? "house"
                    : "same";
        if (!other)
            foreach (var x in a.Numbers)
            foreach (var y in b.Numbers)
                if (x.Length >= 9 && TypingDistance.Within(x, y, 1) <= 1)
                    return "near";
        return "other";
    }

    // Of people their employer; where nobody is named, the company is what the record is about.
    private static (string? Organisation, string? Company) Organisations(Identity a, Identity b)
    {
        var level = Employer(a, b);
        return !a.IsNamed && !b.IsNamed ? (null, level) : (level, null);
    }

    private static string? Employer(Identity a, Identity b)
    {
        var (domains, names) = (a.Domain.Length > 0 && b.Domain.Length > 0, a.Company.Length > 0 && b.Company.Length > 0);
        var domain = domains && SameDomain(a.Domain, b.Domain);
        var name = names && (a.Company == b.Company || a.CompanyLetters == b.CompanyLetters);
        return domain && name ? "both"
            : domain ? "domain"
            : name ? (domains ? "name_only" : "name")
            : IsNamedLike(a, b) || IsNamedLike(b, a) ? (domains ? "name_only" : "name")
            : names && Similar(a.CompanyForm, b.CompanyForm) ? "near"
            : domains || names ? "other"
            : null;
    }

    // The web domain of the one is the company name of the other.
    private static bool IsNamedLike(Identity a, Identity b) => a.DomainLetters.Length >= 5 && a.DomainLetters == b.CompanyLetters;

    private static bool SameDomain(string a, string b) =>
        a == b || (a.Length > b.Length ? a.EndsWith("." + b, StringComparison.Ordinal) : a.Length < b.Length && b.EndsWith("." + a, StringComparison.Ordinal));

    // The same words in another order, all words of the shorter in the longer, or a slip in a long name.
    private static bool Similar(string x, string y)
    {
        if (Math.Min(x.Length, y.Length) >= 6 && TypingDistance.Within(x, y, Math.Max(x.Length, y.Length) / 6) <= Math.Max(x.Length, y.Length) / 6)
            return true;
        var (few, many) = (x.Split(' '), y.Split(' '));
        if (few.Length > many.Length)
            (few, many) = (many, few);
        return few.Any(w => w.Length >= 4) && few.All(w => many.Contains(w));
    }

    private static string? Street(string a, string b, bool shares)
    {
        if (a.Length == 0 || b.Length == 0)
            return null;
        if (a == b)
            return shares ? "shared" : "same";
        var longer = Math.Max(a.Length, b.Length);
        if (longer >= 6 && SameDigits(a, b) && TypingDistance.Within(a, b, longer / 4) <= longer / 4)
            return shares ? "shared" : "near";
        return "other";
    }

    private static string? Place(Identity a, Identity b, bool shares)
    {
        var (codes, towns, regions) = (a.PostalCode.Length > 0 && b.PostalCode.Length > 0, a.City.Length > 0 && b.City.Length > 0, a.Region.Length > 0 && b.Region.Length > 0);
        // In another country the country says it.
        if (a.Country.Length > 0 && b.Country.Length > 0 && a.Country != b.Country)
            return null;
        if (codes && a.PostalCode == b.PostalCode)
            return shares ? "shared" : "postal";
        if (towns && (a.City == b.City || (Math.Min(a.City.Length, b.City.Length) >= 5 && TypingDistance.Within(a.City, b.City, 1) <= 1)))
            return shares ? "shared" : "town";
        if (codes && a.PostalCode.Length >= 4 && TypingDistance.Within(a.PostalCode, b.PostalCode, 1) <= 1)
            return "near";
        if (regions && a.Region == b.Region)
            return shares ? "shared" : "region";
        return codes || towns || regions ? "other" : null;
    }

    private static string? Country(Identity a, Identity b, string? place, bool shares)
    {
        if (a.Country.Length == 0 || b.Country.Length == 0)
            return null;
        if (a.Country != b.Country)
            return "other";
        return !shares && place is (null or "other" or "branch") ? "same" : null;
    }

    private static string? Born(LocalDate? a, LocalDate? b)
    {
        if (a is not { } x || b is not { } y)
            return null;
        if (x == y)
            return "same";
        if (x.Year == y.Year && x.Month == y.Day && x.Day == y.Month)
            return "swapped";
        var (p, q) = ($"{x.Year:0000}{x.Month:00}{x.Day:00}", $"{y.Year:0000}{y.Month:00}{y.Day:00}");
        return TypingDistance.Within(p, q, 1) <= 1 ? "near" : "other";
    }
}
