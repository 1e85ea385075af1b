using CsCheck;
using DapperLantern.Core.Scoring;

namespace DapperLantern.Core.Tests.Scoring;

public sealed class ModelFileTests
{
    [Fact]
    public void WhatIsWrittenIsReadBackAsItWas()
    {
        var text = ModelFile.Write(ScoringSample.Model);
        var reading = ModelFile.Read(text);
        reading.Problems.ShouldBeEmpty();
        ModelFile.Write(reading.Model!).ShouldBe(text);
    }

    [Theory]
    [InlineData("", "file-unreadable")]
    [InlineData("{\"bars\":", "file-unreadable")]
    [InlineData("[1, 2]", "file-no-model")]
    [InlineData("{\"kind\":\"rule-sheet\",\"bars\":{}}", "file-no-model")]
    [InlineData("{\"fit\":[]}", "file-no-model")]
    public void WhatIsNoModelIsRefusedWhole(string text, string code)
    {
        var reading = ModelFile.Read(text);
        reading.Model.ShouldBeNull();
        reading.Problems.Single().Code.ShouldBe(code);
    }

    [Fact]
    public void ABrokenLineIsNamedAndTheRestIsKept()
    {
        var reading = ModelFile.Read(
            """
            {
              "bars": { "fit": 40, "engagement": 30 },
              "fit": [
                { "key": "a", "label": "A", "field": "sites", "lines": [
                  { "when": { "field": "sites", "is": "at-least", "values": ["2"] }, "points": 5, "words": "Two" },
                  { "when": { "field": "sites", "is": "nearly", "values": ["2"] }, "points": 5, "words": "Two" },
                  { "when": { "field": "sites", "is": "in", "values": ["1"] }, "points": "many", "words": "One" } ] },
                7
              ],
              "engagement": [ { "kind": "x", "label": "X", "points": 3, "halfLifeDays": 4, "cap": 5, "colour": "red" }, { "kind": "y", "label": "Y", "points": 3, "halfLifeDays": 4, "cap": 5 } ],
              "weather": true
            }
            """
        );
        reading
            .Problems.Select(p => (p.Path, p.Code))
            .ShouldBe([
                ("fit/0/lines/1", "part-unreadable"),
                ("fit/0/lines/2", "part-unreadable"),
                ("fit/1", "part-unreadable"),
                ("engagement/0", "part-unreadable"),
                ("", "part-unknown"),
            ]);
        reading.Model!.Fit.Single().Lines.Single().Points.ShouldBe(5);
        reading.Model.Engagement.Single().WindowDays.ShouldBe(30);
        reading.Model.Bars.ShouldBe(new Bars(40, 30, 5));
    }

    [Fact]
    public void ANameThatStandsTwiceIsSaidHoweverDeep()
    {
        var file = ModelFile.Write(ScoringSample.Model);
        var twice = file.Insert(file.IndexOf("\"label\"", StringComparison.Ordinal), "\"label\": \"once more\", ");
        ModelFile.Read(twice).Problems.ShouldHaveSingleItem().Code.ShouldBe("file-unreadable");
    }

    // Garbage of every kind is said, never thrown.
    [Fact]
    public void WhateverIsInTheFileItIsReadOrSaid()
    {
        var good = ModelFile.Write(ScoringSample.Model);
        Gen.Select(Gen.Int[0, good.Length - 1], Gen.Int[0, 40], Gen.String[Gen.Char.AlphaNumeric, 0, 3])
            .Sample(
                (at, length, put) =>
                {
                    var reading = ModelFile.Read(good[..at] + put + good[Math.Min(good.Length, at + length)..]);
                    return reading.Model is not null || reading.Problems.Length == 1;
                }
            );
    }
}
