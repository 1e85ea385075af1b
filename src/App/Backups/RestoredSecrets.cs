using System.Text.Json.Nodes;
using DapperLantern.App.Data;

namespace DapperLantern.App.Backups;

/// <summary>Puts the key of a restored workspace in place of the one this place was made with.</summary>
internal static class RestoredSecrets
{
    /// <exception cref="BackupException">The key stands in no file, so whoever runs the program has to put it there.</exception>
    public static async Task Keep(IConfiguration configuration, string key, CancellationToken cancel)
    {
        if (configuration["Secrets:Key"] == key)
            return;
        if (configuration["Secrets:File"] is not { Length: > 0 } file)
            throw new BackupException(
                "The data is restored. Its key is another than the one set: take the one of secrets.json in the backup (tar -xf) for Secrets:Key before you start."
            );
        var secrets = JsonNode.Parse(await File.ReadAllTextAsync(file, cancel))!.AsObject();
        secrets["Secrets"] = new JsonObject { ["Key"] = key };
        var growing = $"{file}.part";
        await using (var stream = BackupFile.Own(growing))
        await using (var writer = new StreamWriter(stream))
            await writer.WriteAsync(secrets.ToJsonString(new System.Text.Json.JsonSerializerOptions { WriteIndented = true }));
        File.Move(growing, file, overwrite: true);
    }
}
