using System.Text;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Matching;

namespace DapperLantern.Bench;

/// <summary>One record of a labelled set: what a list would say of somebody, and who that is.</summary>
internal sealed record Labelled(int Person, Dictionary<string, string> Facts);

/// <summary>
/// Makes up people and the records people really keep of them. Knows nothing of the matcher: names are put together of syllables, slips are those of hands on a keyboard, of
/// scanners and of ears, and life changes names, employers and addresses. There are households, colleagues, namesakes and office mailboxes that are no duplicates.
/// The same seed makes the same set.
/// </summary>
/// <param name="hard">
/// False for what forms, fairs and old systems give: an address on nine records of ten, and mostly the same one. True for what is left when every third pair of records has neither
/// address nor number in common.
/// </param>
internal sealed class MatchingSet(int seed, bool hard)
{
    private static readonly string[] Onsets = "b,br,d,dr,f,fl,g,gr,h,j,k,kl,kr,l,m,n,p,pr,r,s,sch,sk,st,str,t,th,tr,v,w,z,".Split(',');
    private static readonly string[] Vowels = "a,e,i,o,u,ae,ei,ie,au,ø,å,ö,ü,é,ou,a,e,i,o,u".Split(',');
    private static readonly string[] Codas = ",,n,r,l,s,t,m,nd,rn,lt,ck,ng,rd,ss,ll".Split(',');
    private static readonly string[] Ends = "sen,son,berg,mann,ez,ley,ton,dal,vik,feld,quist,aux,ini,ski,ham,by,gaard,strom,er,es".Split(',');
    private static readonly string[] Keyboard = ["qwertyuiop", "asdfghjkl", "zxcvbnm"];

    // Given names with what friends say; some of the short ones are in no table.
    private static readonly string[] Given = (
        "Robert:Bob,Robert:Rob,William:Bill,Elizabeth:Liz,Katherine:Kate,Michael:Mike,Margaret:Peggy,Johannes:Hans,Friedrich:Fritz,Alexander:Sascha,Francisco:Paco,José:Pepe,Thomas:Tom,Christopher:Chris,"
        + "Benjamin:Ben,Susanne:Susi,Wolfgang:Wolf,Katharina:Kathi,Nikolaus:Klaus,Anders:,Ingrid:,Solveig:,Torbjørn:Tobben,Øyvind:,Åse:,Jørgen:,Sigrid:,Gudrun:,Håkon:,Liv:,Marit:,Astrid:,Eirik:,Bjarne:,"
        + "Giles:,Morag:,Callum:Cal,Isla:,Ewan:,Tamsin:Tam,Fergus:,Nerys:,Niamh:,Cormac:,Orla:,Donal:,Jutta:,Annegret:,Torsten:,Ulrich:Uli,Veit:,Leopold:Poldi,Heike:,Sabine:,Jürgen:,Günther:,Dörte:,Käthe:,"
        + "Carmen:,Rocío:,Joaquín:Quino,Montserrat:Montse,Iñaki:,Begoña:,Álvaro:,Inês:,João:,Tiago:,Beatriz:Bia,Émilie:,Françoise:,Benoît:,Étienne:,Aurélie:,Karim:,Yusuf:,Aisha:,Priya:,Rahul:,Mei:,Kenji:,"
        + "Olga:,Dmitri:,Svetlana:Sveta,Piotr:,Agnieszka:Aga,Zoltán:,Ilse:,Maarten:,Joost:,Femke:,Daniel:Dan,Anthony:Tony,Patricia:Trish,Deborah:Debbie,Charles:Chuck,Edward:Ted,Richard:Dick,James:Jim,John:Jack,Mary:Molly"
    ).Split(',');

    private static readonly string[] Trades =
        "Laks,Havbruk,Marine,Wasser,Aqua,Shipping,Brewery,Dairy,Harbour,Consulting,Umwelt,Acuicola,Water,Labs,Instruments,Energy,Foods,Marina,Research,Utilities".Split(',');
    private static readonly string[] Legal = "AS,GmbH,Ltd,S.L.,AB,Inc,SA,ApS,KG,".Split(',');
    private static readonly string[] Offices = ["info", "post", "office", "kontakt", "sales"];
    private static readonly string[] FreeMail = ["freemail.example", "mailhaus.example", "pondmail.example"];
    private static readonly string[] Countries = ["NO", "GB", "DE", "ES", "US", "SE"];

    private readonly Random _random = new(seed);
    private readonly List<string> _surnames = [];
    private readonly List<Town> _towns = [];
    private readonly List<Firm> _firms = [];
    private Dictionary<string, List<Firm>> _firmsOf = [];
    private readonly HashSet<string> _mailboxes = [];

    private sealed record Town(string Name, string Country, string Code);

    private sealed record Firm(string Name, string Domain, Town Town, string Street, string Switchboard);

    private sealed record Someone(
        int Id,
        string First,
        string Short,
        string Last,
        string Maiden,
        Firm? Firm,
        Firm? Later,
        Town Home,
        string Street,
        string HomePhone,
        string Mobile,
        string Private,
        string Work,
        DateOnly Born
    );

    /// <summary>So many people, of whom a share is recorded more than once, in chance order.</summary>
    public List<Labelled> Make(int people)
    {
        for (var i = 0; i < people / 6 + 200; i++)
            _surnames.Add(Capital(Syllable() + (Chance(.6) ? Pick(Ends) : Syllable() + Pick(Ends))));
        for (var i = 0; i < 300; i++)
            _towns.Add(new Town(Capital(Syllable() + Syllable() + (Chance(.3) ? " " + Capital(Syllable()) : "")), Pick(Countries), Digits(5)));
        for (var i = 0; i < people / 5 + 20; i++)
            _firms.Add(MakeFirm());
        _firmsOf = _firms.GroupBy(f => f.Town.Country).ToDictionary(g => g.Key, g => g.ToList());
        var all = new List<Labelled>();
        for (var i = 0; i < people; i++)
        {
            var kin = i > 0 && Chance(.12) ? all[^1].Person : -1;
            var someone = MakeSomeone(i, kin >= 0 ? _last : null);
            _last = someone;
            var copies = Chance(.3) ? (Chance(.25) ? 3 : 2) : 1;
            for (var c = 0; c < copies; c++)
                all.Add(new Labelled(i, Record(someone, c > 0)));
        }
        // Chance order, so that nothing can be learnt from who stands beside whom.
        for (var i = all.Count - 1; i > 0; i--)
        {
            var j = _random.Next(i + 1);
            (all[i], all[j]) = (all[j], all[i]);
        }
        return all;
    }

    private Someone? _last;

    private Firm MakeFirm()
    {
        var name = $"{Capital(Syllable() + Syllable())} {Pick(Trades)}";
        var town = Common(_towns);
        var domain = Ascii(name).Replace(" ", Chance(.3) ? "-" : "") + (town.Country == "GB" ? ".co.example" : ".example");
        return new Firm($"{name} {Pick(Legal)}".Trim(), domain, town, MakeStreet(), Number());
    }

    // A relative has the last name, the street and the telephone at home.
    private Someone MakeSomeone(int id, Someone? relative)
    {
        var given = Common(Given).Split(':');
        var last = relative?.Last ?? Common(_surnames);
        var firm = Chance(.75) ? Common(_firms) : null;
        var later = firm is not null && Chance(.12) ? Common(_firmsOf[firm.Town.Country]) : null;
        var home = relative?.Home ?? (firm is not null && Chance(.8) ? firm.Town : Common(_towns));
        if (firm is not null && relative is null && home.Country != firm.Town.Country)
            home = firm.Town;
        var handle = Chance(.5) ? $"{Ascii(given[0])}.{Ascii(last)}" : $"{Ascii(given[0])[..1]}{Ascii(last)}{_random.Next(60, 99)}";
        var work =
            firm is null ? ""
            : Chance(.12) ? $"{Pick(Offices)}@{firm.Domain}"
            : $"{(Chance(.6) ? $"{Ascii(given[0])}.{Ascii(last)}" : $"{Ascii(given[0])[..1]}{Ascii(last)}")}@{firm.Domain}";
        return new Someone(
            id,
            given[0],
            given[1],
            last,
            Common(_surnames),
            firm,
            later,
            home,
            relative?.Street ?? MakeStreet(),
            relative?.HomePhone ?? Number(),
            Number(),
            relative is not null && Chance(.2) ? relative.Private : OfOne($"{handle}@{Pick(FreeMail)}"),
            work.Length == 0 || Offices.Contains(work.Split('@')[0]) ? work : OfOne(work),
            new DateOnly(1950, 1, 1).AddDays(_random.Next(20_000))
        );
    }

    // A mailbox has one owner: who comes later gets a number.
    private string OfOne(string mailbox)
    {
        while (!_mailboxes.Add(mailbox))
            mailbox = mailbox.Replace("@", $"{_random.Next(2, 99)}@", StringComparison.Ordinal);
        return mailbox;
    }

    private Dictionary<string, string> Record(Someone who, bool again)
    {
        var slips = again ? 1.0 : .25;
        var at = who.Later is not null && again && Chance(.7) ? who.Later : who.Firm;
        var married = again && Chance(.02);
        var first =
            Chance(.12 * slips) && who.Short.Length > 0 ? who.Short
            : Chance(.06 * slips) ? who.First[..1] + (Chance(.5) ? "." : "")
            : who.First;
        var last = married ? (Chance(.5) ? $"{who.Last}-{who.Maiden}" : who.Maiden) : who.Last;
        var facts = new Dictionary<string, string> { ["first_name"] = Spoil(first, .09 * slips), ["last_name"] = Spoil(last, .1 * slips) };
        if (Chance(.04 * slips))
            (facts["first_name"], facts["last_name"]) = (facts["last_name"], facts["first_name"]);
        if (Chance(.06 * slips))
            facts.Remove("first_name");
        var atWork = at is not null && Chance(hard ? .85 : .95);
        if (atWork)
        {
            if (Chance(.88))
                facts["company"] = Spoil(Chance(.3) ? at!.Name.Split(' ')[0] + " " + at.Name.Split(' ')[1] : at!.Name, .1 * slips);
            if (Chance(.25))
                facts["website"] = at!.Domain;
        }
        if (Chance(hard ? .85 : .94))
            facts["email"] = Slip(Mail(who, atWork ? at : null), .03 * slips);
        if (Chance(hard ? .62 : .75))
            facts["phone"] = Slip(Phone(who, atWork ? at : null), .03 * slips);
        if (Chance(.25))
            facts["mobile"] = who.Mobile;
        var (town, street) = atWork ? (at!.Town, at.Street) : (who.Home, who.Street);
        if (Chance(.6))
            facts["city"] = Spoil(town.Name, .08 * slips);
        if (Chance(.5))
            facts["postal_code"] = Slip(town.Code, .04 * slips);
        if (Chance(.4))
            facts["street"] = Spoil(street, .12 * slips);
        if (Chance(.7))
            facts["country"] = town.Country;
        if (!facts.ContainsKey("email") && !facts.ContainsKey("phone") && !facts.ContainsKey("mobile"))
            facts["email"] = who.Private;
        return facts;
    }

    // Most people give the same address and number every time; some at times another.
    private string Mail(Someone who, Firm? at) =>
        at is not null && at != who.Firm ? Moved(who, at)
        : who.Work.Length > 0 && who.Id % 10 < 7 != Chance(hard ? .12 : .04) ? who.Work
        : who.Private;

    private string Phone(Someone who, Firm? at) =>
        (who.Id % 7, Chance(hard ? .15 : .08)) switch
        {
            (< 2, false) or (2, true) when at is not null => at.Switchboard,
            (< 5, false) or (6, true) => who.Mobile,
            _ => who.HomePhone,
        };

    private static string Moved(Someone who, Firm at) => at == who.Firm ? who.Work : $"{Ascii(who.First)}.{Ascii(who.Last)}@{at.Domain}";

    /// <summary>As the sieve would read it.</summary>
    public static Identity Read(Labelled record, FieldCatalogue catalogue)
    {
        var values = new RecordValues(catalogue);
        var country = record.Facts.GetValueOrDefault("country");
        foreach (var (key, written) in record.Facts)
            values[key] = FieldReader.Read(catalogue[key], written, country).Value;
        return Identity.Of(values);
    }

    // What ears and conventions do to a name, and then what hands do.
    private string Spoil(string text, double chance)
    {
        if (Chance(chance))
            text = Heard(text);
        if (Chance(chance))
            text = Slip(text, 1);
        if (Chance(chance * .6))
            text = _random.Next(3) switch
            {
                0 => text.ToUpperInvariant(),
                1 => text.ToLowerInvariant(),
                _ => Ascii(text),
            };
        return text;
    }

    private string Heard(string text)
    {
        (string From, string To)[] ears =
        [
            ("ph", "f"),
            ("ck", "k"),
            ("sen", "son"),
            ("ei", "ie"),
            ("th", "t"),
            ("v", "w"),
            ("ss", "s"),
            ("c", "k"),
            ("y", "i"),
            ("ø", "oe"),
            ("ü", "ue"),
            ("å", "aa"),
            ("ll", "l"),
            ("i", "y"),
            ("dt", "t"),
            ("mann", "man"),
        ];
        var fitting = ears.Where(e => text.Contains(e.From, StringComparison.Ordinal)).ToList();
        if (fitting.Count == 0)
            return text;
        var (from, to) = fitting[_random.Next(fitting.Count)];
        var at = text.IndexOf(from, StringComparison.Ordinal);
        return text[..at] + to + text[(at + from.Length)..];
    }

    // One slip: a letter dropped, doubled, swapped with the next, or its neighbour's key; or what a scanner misreads.
    private string Slip(string text, double chance)
    {
        if (!Chance(chance) || text.Length < 3)
            return text;
        var at = 1 + _random.Next(text.Length - 2);
        var letter = char.ToLowerInvariant(text[at]);
        return _random.Next(5) switch
        {
            0 => text.Remove(at, 1),
            1 => text.Insert(at, text[at].ToString()),
            2 => text[..at] + text[at + 1] + text[at] + text[(at + 2)..],
            3 => text[..at] + Scanned(letter) + text[(at + 1)..],
            _ => text[..at] + Beside(letter) + text[(at + 1)..],
        };
    }

    private static string Scanned(char letter) =>
        letter switch
        {
            'm' => "rn",
            'l' => "1",
            'o' => "0",
            'e' => "c",
            '1' => "7",
            '0' => "8",
            'h' => "b",
            _ => letter.ToString(),
        };

    private string Beside(char letter)
    {
        foreach (var row in Keyboard)
            if (row.IndexOf(letter) is var at and >= 0)
                return row[Math.Clamp(at + (Chance(.5) ? 1 : -1), 0, row.Length - 1)].ToString();
        return char.IsDigit(letter) ? ((letter - '0' + 1) % 10).ToString() : letter.ToString();
    }

    private string MakeStreet() => $"{Capital(Syllable() + Syllable())} {Pick(["Road", "Street", "veien", "strasse", "Lane", "gate"])} {_random.Next(1, 180)}";

    private string Number() => Chance(.5) ? $"+4477009{Digits(5)}" : $"+4720{Digits(6)}";

    private string Syllable() => Pick(Onsets) + Pick(Vowels) + Pick(Codas);

    private string Digits(int count) => string.Concat(Enumerable.Range(0, count).Select(_ => (char)('0' + _random.Next(10))));

    private bool Chance(double p) => _random.NextDouble() < p;

    private T Pick<T>(IReadOnlyList<T> from) => from[_random.Next(from.Count)];

    // A few are common, most are rare.
    private T Common<T>(IReadOnlyList<T> from) => from[(int)(from.Count * Math.Pow(_random.NextDouble(), 1.5))];

    private static string Capital(string text) => text.Length == 0 ? text : char.ToUpperInvariant(text[0]) + text[1..];

    private static string Ascii(string text)
    {
        var plain = new StringBuilder();
        foreach (var letter in text.Normalize(NormalizationForm.FormD))
            if (letter < 128 && (char.IsLetterOrDigit(letter) || letter == ' '))
                plain.Append(char.ToLowerInvariant(letter));
            else if (letter is 'ø' or 'Ø')
                plain.Append('o');
            else if (letter is 'æ')
                plain.Append("ae");
        return plain.ToString();
    }
}
