using System.Diagnostics;
using DapperLantern.Tests.Shared;

namespace DapperLantern.App.Tests.Starting;

/// <summary>The launcher on a machine that lacks something, or where an earlier start was stopped half-way: a plain sentence, and nothing is harmed.</summary>
public sealed class LauncherTests : IDisposable
{
    // Under a folder that the database's own user comes into.
    private readonly string _place = Directory.CreateDirectory(Path.Combine("/var/tmp", $"lantern-test.launcher-{Guid.NewGuid():N}")).FullName;
    private readonly string _tools;

    public LauncherTests() => _tools = Directory.CreateDirectory(Path.Combine(_place, "tools")).FullName;

    public void Dispose() => Directory.Delete(_place, recursive: true);

    // A program of the machine that answers otherwise.
    private Task Fake(string program, string commands) => Scripts.Make(Path.Combine(_tools, program), commands);

    private async Task<(int Code, string Said)> Lantern(params string[] args)
    {
        var start = new ProcessStartInfo(Path.Combine(TestServer.Root, "lantern"), args) { RedirectStandardError = true, RedirectStandardOutput = true };
        start.Environment["PATH"] = $"{_tools}:{Environment.GetEnvironmentVariable("PATH")}";
        start.Environment["LANTERN_PLACE"] = Path.Combine(_place, "own");
        start.Environment["LANTERN_STATE"] = Path.Combine(_place, "builds");
        using var process = Process.Start(start)!;
        var said = await Task.WhenAll(process.StandardOutput.ReadToEndAsync(), process.StandardError.ReadToEndAsync());
        await process.WaitForExitAsync();
        return (process.ExitCode, string.Concat(said));
    }

    [Fact]
    public async Task WhatIsMissingIsNamed()
    {
        await Fake("apt-cache", "exit 0");
        await Fake("dotnet", "echo '8.0.404 [/usr/share/dotnet/sdk]'");
        var (code, said) = await Lantern("match", "none.csv");
        (code, said.Trim()).ShouldBe(
            (
                1,
                "The .NET 10 SDK is needed to build the server; found: 8.0.404. The packages of this machine do not have it: install it, so that \"dotnet --list-sdks\" names a 10, and start again."
            )
        );
        File.Delete(Path.Combine(_tools, "dotnet"));
        await Fake("node", "[ \"$1\" = --version ] && echo v18.19.0");
        (code, said) = await Lantern("match", "none.csv");
        code.ShouldBe(1);
        said.ShouldStartWith("Node 20.19 or 22.12 or newer is needed, with npm, to build the client; found: v18.19.0.");
    }

    [Fact]
    public async Task ADiskThatIsNearlyFullIsToldBeforeAnythingIsMade()
    {
        await Fake("df", "echo header; echo '/dev/full 1000000 999880 120 100% /'");
        var (code, said) = await Lantern("start");
        code.ShouldBe(1);
        said.ShouldContain("120 MB are free in");
        said.ShouldContain("Make room, and start again.");
        Directory.EnumerateFileSystemEntries(Path.Combine(_place, "own")).ShouldBeEmpty();
    }

    [Fact]
    public async Task AStartThatWasStoppedHalfWayIsTakenUpAndNobodysFilesAreTouched()
    {
        var (data, port) = (Path.Combine(_place, "own", "pg"), Ports.Free().ToString(System.Globalization.CultureInfo.InvariantCulture));
        // Stopped while the data was made.
        Directory.CreateDirectory($"{data}.making");
        await File.WriteAllTextAsync(Path.Combine($"{data}.making", "PG_VERSION"), "15");
        (await Lantern("cluster", "start", data, port)).ShouldBe((0, ""));
        Directory.Exists($"{data}.making").ShouldBeFalse();
        (await Lantern("cluster", "stop", data)).Code.ShouldBe(0);
        // Data that lost a part.
        using (var remove = Process.Start("rm", [Path.Combine(data, "postgresql.conf")]))
            await remove.WaitForExitAsync();
        var (code, said) = await Lantern("cluster", "start", data, port);
        code.ShouldBe(1);
        said.ShouldStartWith($"PostgreSQL does not start with the data in {data}. It says:");
        said.ShouldContain("postgresql.conf");
        // Something else in its place.
        var other = Path.Combine(_place, "own", "letters");
        Directory.CreateDirectory(other);
        await File.WriteAllTextAsync(Path.Combine(other, "dear.txt"), "Dear");
        (code, said) = await Lantern("cluster", "start", other, port);
        (code, said.Trim()).ShouldBe((1, $"{other} holds files that are no data of PostgreSQL. Move it away, or choose another place, and start again."));
        File.Exists(Path.Combine(other, "dear.txt")).ShouldBeTrue();
    }

    [Fact]
    public async Task DataOfAVersionThatIsGoneIsNotOpenedByAnother()
    {
        var data = Directory.CreateDirectory(Path.Combine(_place, "own", "pg")).FullName;
        await File.WriteAllTextAsync(Path.Combine(data, "PG_VERSION"), "14");
        var (code, said) = await Lantern("cluster", "start", data, "1");
        code.ShouldBe(1);
        said.ShouldContain($"The data in {data} is of PostgreSQL 14, which is not installed here any more.");
    }
}
