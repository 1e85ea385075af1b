using CsCheck;
using DapperLantern.Core.Matching;

namespace DapperLantern.Core.Tests.Matching;

/// <summary>Pairs of a list held in memory, against comparing all with all.</summary>
public sealed class PairsTests
{
    private static readonly Gen<Identity> Any = Gen.Select(
            Gen.OneOfConst("kari.sollid@fjord.example", "k.sollid@fjord.example", "tor@vik.example", "info@fjord.example", ""),
            Gen.OneOfConst("+4722550143", "+4722550144", ""),
            Gen.OneOfConst("kari", "karin", "tor", ""),
            Gen.OneOfConst("sollid", "solid", "vik", ""),
            Gen.OneOfConst("fjordnaer laks", "vik havn", "")
        )
        .Select((mail, phone, first, last, company) => new Identity(mail, phone, first, last, company));

    [Fact]
    public void PairsAreThoseThatShareAKeyEachOnceInTheOrderOfTheList() =>
        Gen.Select(Any.Array[0, 12], Gen.Int[0, 12])
            .Sample(
                (records, start) =>
                {
                    var keys = records.Select(r => BlockKeys.Of(r).Select(k => k.Key).ToHashSet()).ToArray();
                    var wanted = from b in Enumerable.Range(0, records.Length) from a in Enumerable.Range(0, b) where b >= start && keys[a].Overlaps(keys[b]) select (a, b);
                    var found = Pairs.Candidates(records, start).ToList();
                    found.ShouldBeUnique();
                    found.Order().ShouldBe(wanted.Order());
                    // Weighed, those under the lower bar fall out, and no other.
                    var matcher = Matcher.Shipped;
                    Pairs
                        .Find(records, matcher, start)
                        .Select(p => (p.A, p.B))
                        .Order()
                        .ShouldBe(found.Where(p => matcher.Weigh(records[p.A], records[p.B]) >= matcher.Bars.Ask).Order());
                }
            );

    [Fact]
    public void AKeyThatVeryManyShareBringsNobodyTogether()
    {
        Identity Of(int i) => new($"person{i}@one.example", "+4722550143", "", "", "");
        Pairs.Candidates([.. Enumerable.Range(0, Pairs.LargestBlock).Select(Of)]).Count().ShouldBe(Pairs.LargestBlock * (Pairs.LargestBlock - 1) / 2);
        Pairs.Candidates([.. Enumerable.Range(0, Pairs.LargestBlock + 1).Select(Of)]).ShouldBeEmpty();
    }

    [Fact]
    public void LooksAreCountedByTheKeyThatBroughtThemTogether()
    {
        Identity[] records = [new("kari@fjord.example", "", "kari", "sollid", ""), new("kari@fjord.example", "", "kari", "sollid", ""), new("", "+4722550143", "tor", "vik", "")];
        var looks = Pairs.Looks(records).ToDictionary(c => c.By, c => c.Looks);
        looks[BlockKind.Mail].ShouldHaveSingleItem().Value.ShouldBe(1);
        looks[BlockKind.Name].ShouldHaveSingleItem().Key.ShouldBe(ComparisonVector.Of(records[0], records[1]));
        looks[BlockKind.Phone].ShouldBeEmpty();
    }

    [Fact]
    public void DrawnByChanceNoRecordMeetsItself() =>
        Gen.Select(Any.Array[2, 6], Gen.Int[0, 1000])
            .Sample(
                (records, seed) =>
                {
                    // Each record is known by its number.
                    var numbered = records.Select((_, i) => new Identity("", $"+47225501{i:00}", "", "", "")).ToArray();
                    var random = new Random(seed);
                    var looks = Pairs.ByChance(numbered, 50, random.Next);
                    looks.Values.Sum().ShouldBe(50);
                    looks.ShouldNotContainKey(ComparisonVector.Of(numbered[0], numbered[0]));
                }
            );

    [Fact]
    public void OfOneRecordNoPairIsDrawn() => Pairs.ByChance([new Identity("a@b.example", "", "", "", "")], 50, _ => 0).ShouldBeEmpty();

    [Fact]
    public void HowCommonAValueIsIsCountedWhereItIsCommon()
    {
        var records = Enumerable
            .Range(0, 1000)
            .Select(i => new Identity(
                "",
                i < 4 ? "+4722550143" : "",
                i < 100 ? "kari" : $"first{i}",
                i < 4 ? $"last{i}"
                    : i < 9 ? "rare"
                    : i < 13 ? "rarer"
                    : $"name{i}",
                ""
            ))
            .ToArray();
        var shares = Pairs.Shares(records);
        shares.Of("first_name", "kari").ShouldBe(.1, 1e-9);
        shares.Of("first_name", "first500").ShouldBe(0);
        shares.Of("last_name", "rare").ShouldBe(5 / 1000d, 1e-9);
        // A number under four names is an office's.
        shares.Of("phone", "+4722550143").ShouldBe(4 / 1000d, 1e-9);
    }
}
