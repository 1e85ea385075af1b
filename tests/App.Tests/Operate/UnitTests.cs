using System.Diagnostics;
using DapperLantern.App.Setup;

namespace DapperLantern.App.Tests.Operate;

/// <summary>The example of a systemd unit: systemd reads it, and its settings are ones there are.</summary>
public sealed class UnitTests
{
    private static readonly string s_unit = Path.Combine(TestServer.Root, "docs", "operate", "dapper-lantern.service");

    [Fact]
    public async Task ItsSettingsAreSettings()
    {
        var known = Settings.All.SelectMany(t => t.GetProperties().Select(p => Settings.KeyOf(Settings.SectionOf(t), p))).Append("Secrets:File").ToHashSet();
        var set = (await File.ReadAllLinesAsync(s_unit))
            .Where(l => l.StartsWith("Environment=", StringComparison.Ordinal) && l.Contains("__", StringComparison.Ordinal))
            .Select(l => l["Environment=".Length..l.IndexOf('=', "Environment=".Length)].Replace("__", ":", StringComparison.Ordinal))
            .ToList();
        set.Count.ShouldBeGreaterThan(5);
        set.ShouldAllBe(s => known.Contains(s));
    }

    [Fact]
    public async Task SystemdReadsIt()
    {
        var here = Path.Combine(Directory.CreateTempSubdirectory("lantern-unit").FullName, "dapper-lantern.service");
        // The program lies elsewhere here.
        await File.WriteAllTextAsync(
            here,
            (await File.ReadAllTextAsync(s_unit)).Replace("/opt/dapper-lantern/artifacts/bin/App/release/DapperLantern.App", "/bin/true", StringComparison.Ordinal)
        );
        using var reading = Process.Start(new ProcessStartInfo("systemd-analyze", ["verify", "--man=no", here]) { RedirectStandardError = true })!;
        var said = await reading.StandardError.ReadToEndAsync();
        await reading.WaitForExitAsync();
        said.Split('\n').Where(l => l.Contains("dapper-lantern.service", StringComparison.Ordinal) && !l.Contains("Failed to", StringComparison.Ordinal)).ShouldBeEmpty();
        Directory.Delete(Path.GetDirectoryName(here)!, recursive: true);
    }
}
