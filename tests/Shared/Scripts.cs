using System.Diagnostics;

namespace DapperLantern.Tests.Shared;

/// <summary>Programs of a test's own, in the place of those of the machine.</summary>
public static class Scripts
{
    /// <summary>Makes a program of a shell's commands.</summary>
    public static async Task Make(string file, string commands)
    {
        await File.WriteAllTextAsync(file, $"#!/bin/sh\n{commands}\n");
        using var chmod = Process.Start("chmod", ["+x", file]);
        await chmod.WaitForExitAsync();
    }
}
