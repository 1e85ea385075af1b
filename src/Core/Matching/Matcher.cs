using System.Collections.Immutable;
using DapperLantern.Core.Fields;

namespace DapperLantern.Core.Matching;

/// <summary>What identifies a person for matching, in comparison form. Empty text for what is not known.</summary>
public sealed record Identity(string Email, string Phone, string FirstName, string LastName, string Company, string Mobile = "")
{
    /// <summary>The numbers the person is reached by; none, one or two different ones.</summary>
    public IEnumerable<string> Numbers => new[] { Phone, Mobile }.Where(n => n.Length > 0).Distinct();

    /// <summary>The first of <see cref="Numbers"/>; empty when there is none.</summary>
    public string Number => Phone.Length > 0 ? Phone : Mobile;

    public static Identity Of(RecordValues record) =>
        new(
            record.Text("email") ?? "",
            record.Text("phone") ?? "",
            Folding.Plain(record.Text("first_name")),
            Folding.Plain(record.Text("last_name")),
            Folding.Company(record.Text("company")),
            record.Text("mobile") ?? ""
        );
}

/// <summary>One piece of evidence for or against two records being one person.</summary>
public sealed record Evidence(string Words, int Weight);

/// <summary>How two identities compare. <see cref="Weight"/> is the sum of the evidence.</summary>
public sealed record MatchResult(ImmutableArray<Evidence> Evidence)
{
    /// <summary>From this weight two records are taken as one without asking.</summary>
    public const int SameFrom = 90;

    /// <summary>From this weight a person is asked.</summary>
    public const int TwinFrom = 50;

    public int Weight => Evidence.Sum(e => e.Weight);
    public bool Same => Weight >= SameFrom;
    public bool Twin => Weight is >= TwinFrom and < SameFrom;
}

/// <summary>Compares two identities. Symmetric: the order of the two does not matter.</summary>
public static class Matcher
{
    private static readonly (string Words, int Agree, int Differ, Func<Identity, IEnumerable<string>> Of)[] Parts =
    [
        ("mail address", 100, -25, i => [i.Email]),
        ("telephone number", 45, 0, i => i.Numbers),
        ("first name", 15, -30, i => [i.FirstName]),
        ("last name", 30, -40, i => [i.LastName]),
        ("company", 20, -10, i => [i.Company]),
    ];

    /// <summary>Evidence for each part that both have; what either lacks says nothing.</summary>
    public static MatchResult Compare(Identity a, Identity b)
    {
        var evidence = ImmutableArray.CreateBuilder<Evidence>();
        foreach (var (words, agree, differ, of) in Parts)
        {
            var (x, y) = (of(a), of(b));
            if (x.All(v => v.Length == 0) || y.All(v => v.Length == 0))
                continue;
            if (x.Intersect(y).Any())
                evidence.Add(new Evidence($"same {words}", agree));
            else if (differ != 0)
                evidence.Add(new Evidence($"different {words}", differ));
        }
        return new MatchResult(evidence.ToImmutable());
    }
}
