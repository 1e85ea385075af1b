using DapperLantern.Core.Intake;

namespace DapperLantern.Core.Tests.Intake;

public class SeenKeysTests
{
    [Fact]
    public void What_was_added_is_met_and_little_else_is()
    {
        var random = new Random(4);
        var seen = new SeenKeys();
        var added = Enumerable.Range(0, 1_000_000).Select(_ => random.NextInt64(long.MinValue, long.MaxValue)).ToHashSet();
        foreach (var key in added)
            seen.Add(key);
        Assert.All(added, key => Assert.True(seen.MayHave(key)));
        var wrong = Enumerable.Range(0, 100_000).Count(i => !added.Contains(i) && seen.MayHave(i));
        Assert.InRange(wrong, 0, 200);
    }
}
