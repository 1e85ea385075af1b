namespace DapperLantern.Core.Tests.Problems;

public sealed class ProblemTests
{
    [Fact]
    public void ASentenceShowsAtMostEightyLettersOfWhatCameAndKeepsItWhole()
    {
        var name = new string('x', 200);
        var problem = Problem.Of("team-exists", "name", name);
        problem.Found.ShouldBe(name);
        problem.Words.ShouldBe($"There is a team \u201c{new string('x', 79)}\u2026\u201d already.");
        Problem.Of("need-unknown", "", "Stage", name).Words.Length.ShouldBeLessThan(130);
    }

    [Fact]
    public void TextsOfOursListsAndProblemsAreShownWhole()
    {
        var sentence = new string('y', 200);
        Problem.Of("not-qualified", "state", new Whole(sentence)).Words.ShouldBe(sentence);
        Problem.Of("tag-group", "group", Enumerable.Range(0, 40).Select(i => $"g{i}")).Words.ShouldEndWith("g38, g39.");
        Problem.Of("edition-unfit", "", 3, new Problem("team-gone", "", "north")).Words.ShouldBe("Edition 3 cannot go live again: There is no team \u201cnorth\u201d any more.");
    }

    [Fact]
    public void NumbersAreWrittenWithThousands() => Problem.Of("too-long", "text", 20_000).Words.ShouldBe("This has at most 20,000 letters.");

    [Fact]
    public void ACodeOutsideTheTableIsShownAsItIs()
    {
        var problem = new Problem("no-such-code");
        (problem.Words, problem.Kind).ShouldBe(("no-such-code", ProblemKind.Invalid));
    }

    [Fact]
    public void EverySentenceCanBeFilledAndEnds()
    {
        foreach (var (code, sentence) in ProblemWords.All)
        {
            var words = string.Format(null, sentence, "A", "B", "C", "D");
            (words.Contains('{') && !words.Contains("{account}") && !words.Contains("{A}")).ShouldBeFalse(code);
            (words[^1] is '.' or '?' or 'A' or 'B' or '\u2026').ShouldBeTrue(code);
        }
    }

    [Fact]
    public void AnOutcomeIsAValueOrAProblem()
    {
        Outcome<int> made = 3;
        Outcome<int> refused = new Problem("stale");
        (made.Value, made.Problem, refused.Problem!.Kind).ShouldBe((3, null, ProblemKind.Stale));
    }
}
