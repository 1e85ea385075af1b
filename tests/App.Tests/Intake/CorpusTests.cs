using System.Net;
using System.Text.Json;
using DapperLantern.App.Intake;

namespace DapperLantern.App.Tests.Intake;

/// <summary>
/// The lists nobody should send, in <c>tests/corpus</c>, each with what is to become of it in <c>expected.tsv</c>: rows read, new, adds, duplicates, to
/// mend, barred; or the trouble it is refused with.
/// </summary>
public sealed class CorpusTests(ServerFixture fixture) : IClassFixture<ServerFixture>
{
    private static readonly string Folder = Path.Combine(TestServer.Root, "tests", "corpus");

    private static Dictionary<string, string> Expected =>
        File.ReadLines(Path.Combine(Folder, "expected.tsv")).Skip(1).Select(l => l.Split('\t', 2)).ToDictionary(l => l[0], l => l[1]);

    public static TheoryData<string> Files => [.. Directory.GetFiles(Folder).Select(f => Path.GetFileName(f)!).Where(f => f != "expected.tsv").Order(StringComparer.Ordinal)];

    [Theory]
    [MemberData(nameof(Files))]
    public async Task AListIsReadToTheLastRowOrRefusedWithASentence(string file)
    {
        var ingrid = await fixture.Server.SignIn("ingrid.brekke");
        var answer = await ingrid.Drop(file, await File.ReadAllBytesAsync(Path.Combine(Folder, file)));
        string found;
        if (answer.Status == HttpStatusCode.OK)
        {
            var counts = answer.Read<SieveView>().Import.Counts;
            counts.Balances.ShouldBeTrue(counts.ToString());
            found = $"{counts.Read}\t{counts.New}\t{counts.Adds}\t{counts.Duplicate}\t{counts.Mend}\t{counts.Barred}";
        }
        else
        {
            ((int)answer.Status).ShouldBeInRange(400, 499);
            answer.Sentence.Length.ShouldBeGreaterThan(20);
            found = answer.Problem!;
        }
        found.ShouldBe(Expected.GetValueOrDefault(file, "not in expected.tsv"));
    }
}
