using Npgsql;

namespace DapperLantern.App.Backups;

/// <summary>
/// <c>backup FILE</c> makes a backup; <c>restore FILE</c> puts one into an empty place. Exit codes: 0 done, 1 not done, with a sentence, 2 used otherwise than so.
/// </summary>
public static class BackupCommand
{
    public static async Task<int> Run(IServiceProvider services, IReadOnlyList<string> args, TextWriter output, TextWriter errors)
    {
        if (args is not [var what and ("backup" or "restore"), var file])
        {
            await errors.WriteLineAsync("backup FILE, or restore FILE");
            return 2;
        }
        try
        {
            var maker = services.GetRequiredService<BackupMaker>();
            if (what == "backup")
                return await Tell(await maker.Make(Path.GetFullPath(file), default), file, output, errors);
            var about = await maker.Restore(Path.GetFullPath(file), default);
            await output.WriteLineAsync($"Restored as it was at {about.At:yyyy-MM-dd HH:mm} UTC: {about.Rows.Count} tables, {about.Rows.Values.Sum()} rows.");
            return 0;
        }
        catch (Exception e) when (e is BackupException or IOException or UnauthorizedAccessException or NpgsqlException)
        {
            await errors.WriteLineAsync(e.Message);
            return 1;
        }
    }

    private static async Task<int> Tell(BackupRun run, string file, TextWriter output, TextWriter errors)
    {
        if (run.Problem is not null)
        {
            await errors.WriteLineAsync(run.Problem);
            return 1;
        }
        var tried = run.Tables is { } tables ? $", tried: {tables} tables with {run.Rows} rows could be put back" : "";
        await output.WriteLineAsync(FormattableString.Invariant($"{file}: {run.Bytes / 1e6:0.0} MB in {run.Seconds:0.0} s{tried}."));
        return 0;
    }
}
