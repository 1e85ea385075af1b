using System.Collections.Immutable;

namespace DapperLantern.Core.Matching;

/// <summary>
/// How far two records agree in one respect. A level's weight in bits is log2(m / u): <see cref="M"/> is the share of true pairs that stand at it, <see cref="U"/> that of pairs of
/// two different people (Fellegi and Sunter, 1969).
/// </summary>
/// <param name="Words">For people.</param>
public sealed record Level(string Key, string Words, double M, double U)
{
    /// <summary>
    /// True for a level that stands only where something else agrees, as colleagues share a street or the same name lives in the same place: it weighs what is left to say. Pairs drawn by
    /// chance hardly ever stand there, for that other reason, so its U is not learnt from them.
    /// </summary>
    public bool Given { get; init; }

    /// <summary>Rounded to a tenth, as it is shown, so that what is shown adds up.</summary>
    public double Bits => Math.Round(Math.Log2(M / U), 1);
}

/// <summary>One respect in which two records are compared, and its levels.</summary>
public sealed record Comparison(string Key, string Label, ImmutableArray<Level> Levels);

/// <summary>What is compared, by which the look of a pair is written down: for each comparison the level it stands at, or that nothing can be said.</summary>
public static class Comparisons
{
    /// <summary>Nothing can be said: one of the two does not tell.</summary>
    public const int Silent = -1;

    /// <summary>In the order in which evidence is told.</summary>
    public static ImmutableArray<Comparison> All { get; } =
    [
        new(
            "first_name",
            "First name",
            [
                new("same", "same first name", .72, .006),
                new("nickname", "one first name is short for the other", .04, .0015),
                new("short_slip", "one first name is short for the other, but for a slip", .012, .0015) { Given = true },
                new("part", "one first name is part of the other", .05, .004),
                new("near", "first names differ by a slip", .07, .003),
                new("initial", "first name and its initial", .05, .01),
                new("alike", "first names are alike", .03, .012),
                new("other", "different first names", .04, .96),
            ]
        ),
        new(
            "last_name",
            "Last name",
            [
                new("same", "same last name", .82, .0012),
                new("family", "same last name, as a family has", .02, .004) { Given = true },
                new("part", "one last name is part of the other", .03, .0006),
                new("near", "last names differ by a slip", .07, .0012),
                new("alike", "last names are alike", .02, .004),
                new("other", "different last names", .04, .98),
            ]
        ),
        new("name_order", "Order of names", [new("swapped", "first and last name the other way round", .02, .04)]),
        new(
            "email",
            "Email",
            [
                new("same", "same email address", .6, 1e-10) { Given = true },
                new("nobody", "same office address, and no name beside it", .3, 1e-9) { Given = true },
                new("near", "email addresses differ by a slip", .06, 2e-6) { Given = true },
                new("local", "same name before the @ at another place", .05, .001) { Given = true },
                new("firm", "same email address at a company under another first name", .02, 1.2e-6) { Given = true },
                new("family", "same email address under another first name", .01, .00002) { Given = true },
                new("office", "same office address", .03, .01) { Given = true },
                new("beside", "different email addresses at one company", .007, 1) { Given = true },
                new("other", "different email addresses", .24, 1),
            ]
        ),
        new(
            "phone",
            "Phone",
            [
                new("same", "same telephone number", .55, 2e-6) { Given = true },
                new("near", "telephone numbers differ by a slip", .05, .0002) { Given = true },
                new("house", "same telephone number, and a first name is missing", .05, .00004) { Given = true },
                new("family", "same telephone number under another name", .02, .003) { Given = true },
                new("other", "different telephone numbers", .38, 1),
            ]
        ),
        new(
            "organisation",
            "Organisation",
            [
                new("both", "same company and web domain", .45, .0003),
                new("domain", "same web domain", .12, .0002),
                new("name", "same company", .2, .0004),
                new("name_only", "same company at another web domain", .03, .0002),
                new("near", "companies have similar names", .08, .004),
                new("other", "different companies", .12, .99),
            ]
        ),
        new(
            "company",
            "Company itself",
            [
                new("both", "same company and web domain, and nobody is named", .5, 1e-7),
                new("domain", "same web domain, and nobody is named", .15, 1e-6),
                new("name", "same company, and nobody is named", .2, 4e-6),
                new("name_only", "same company at another web domain, and nobody is named", .02, 4e-6),
                new("near", "companies have similar names, and nobody is named", .06, .0001),
                new("other", "different companies", .05, 1),
            ]
        ),
        new(
            "street",
            "Street",
            [
                new("same", "same street and number", .55, .0011) { Given = true },
                new("near", "streets differ little", .15, .001) { Given = true },
                new("shared", "same street, as those who share a house or a company have", .1, .02) { Given = true },
                new("other", "different streets", .2, 1),
            ]
        ),
        new(
            "place",
            "Place",
            [
                new("postal", "same postal code", .6, .002) { Given = true },
                new("near", "postal codes differ by a digit", .05, .004),
                new("town", "same place", .15, .008) { Given = true },
                new("shared", "same place, as those who share a house or a company have", .1, .02) { Given = true },
                new("region", "same region", .08, .03) { Given = true },
                new("other", "different places", .1, .93),
                new("branch", "different places, as branches of one company have", .00006, 1) { Given = true },
            ]
        ),
        new("country", "Country", [new("same", "same country", .97, .4) { Given = true }, new("other", "different countries", .03, .6)]),
        new(
            "born",
            "Date of birth",
            [
                new("same", "same date", .9, 4e-5),
                new("swapped", "day and month the other way round", .02, .0001),
                new("near", "dates differ by a digit", .04, .002),
                new("other", "different dates", .03, 1),
            ]
        ),
    ];

    public const int FirstName = 0;
    public const int LastName = 1;
    public const int NameOrder = 2;

    /// <summary>The level of last names that differ by a slip.</summary>
    public const int LastNameNear = 3;

    public const int Email = 3;
    public const int Phone = 4;
    public const int Organisation = 5;
    public const int Company = 6;
    public const int Street = 7;
    public const int Place = 8;
    public const int Country = 9;
    public const int Born = 10;
}
