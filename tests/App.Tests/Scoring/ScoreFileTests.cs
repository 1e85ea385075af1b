using DapperLantern.App.Scoring;
using DapperLantern.Tests.Shared;

namespace DapperLantern.App.Tests.Scoring;

/// <summary>A list scored by a model file without a server.</summary>
public sealed class ScoreFileTests : IDisposable
{
    private static readonly string Model = Path.Combine(TestServer.Root, "demo", "setup", "scoring-model.json");
    private static readonly string Setup = Path.Combine(TestServer.Root, "demo", "setup", "setup.json");
    private readonly string _folder = Directory.CreateTempSubdirectory("lantern-score").FullName;

    public void Dispose() => Directory.Delete(_folder, recursive: true);

    private string Written(string name, string text)
    {
        var path = Path.Combine(_folder, name);
        File.WriteAllText(path, text);
        return path;
    }

    private static async Task<(int Code, string[] Lines, string Told)> Run(params string[] arguments)
    {
        var (output, told) = (new StringWriter(), new StringWriter());
        var code = await ScoreFile.Run(arguments, output, told);
        return (code, output.ToString().Split('\n', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries), told.ToString());
    }

    [Fact]
    public async Task EachLeadGetsItsScoresAndWhy()
    {
        var leads = Written(
            "leads.csv",
            "First name;Last name;Company;Mail;Job title;Country;Industry;Sites\nRagna;Solberg;Fjord Laks AS;ragna@laks.example;Operations manager;Norway;Fish farming;7\nBea;Quill;;bea@pond.example;;;;\n"
        );
        var events = Written("events.csv", "mail,kind,at,detail\nragna@laks.example,form.survey,2026-11-22T12:00:00Z,\nRagna@laks.example,call.reached,soon,\n");
        var (code, lines, told) = await Run(Model, leads, "--setup", Setup, "--events", events, "--at", "2026-11-23T12:00:00Z");
        code.ShouldBe(0, told);
        lines.Length.ShouldBe(3);
        lines[0].ShouldStartWith("row,name,fit,fit_low,fit_high,engagement,next_move");
        lines[1].ShouldContain("Ragna Solberg,82,82,");
        lines[1].ShouldContain("Hand over");
        lines[1].ShouldContain("Fish farming +30");
        lines[2].ShouldContain("Bea Quill,0,0,100,0,Park,Industry");
        told.ShouldContain("is no moment; the event is left out");
        told.ShouldContain("2 leads scored");
    }

    [Fact]
    public async Task WhatIsWrongIsSaidAtItsLineAndNothingIsScored()
    {
        var leads = Written("leads.csv", "Company;Mail\nLaks AS;a@laks.example\n");
        (await Run(Model)).Code.ShouldBe(2);
        (await Run(Model, "nowhere.csv")).Told.ShouldContain("there is no such file");
        (await Run(Written("broken.json", "{"), leads)).Told.ShouldContain("This is no JSON file");
        var (code, lines, told) = await Run(
            Written("bad.json", (await File.ReadAllTextAsync(Model)).Replace("\"halfLifeDays\": 45", "\"halfLifeDays\": 0", StringComparison.Ordinal)),
            leads
        );
        (code, lines.Length).ShouldBe((2, 0));
        told.ShouldContain("engagement/0: A half-life is over 0");
    }
}
