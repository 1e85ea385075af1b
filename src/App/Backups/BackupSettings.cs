using DapperLantern.App.Setup;

namespace DapperLantern.App.Backups;

/// <summary>Backups by night.</summary>
[Settings("Backup")]
public sealed class BackupSettings
{
    /// <summary>Where they are kept; null for none by night.</summary>
    public string? Folder { get; set; }

    /// <summary>So many of the latest are kept.</summary>
    [Within(1, 1_000)]
    public int Keep { get; set; } = 14;

    /// <summary>A database of the owner's beside ours, in which each backup is tried; what is in it goes. Null for no trial.</summary>
    public string? Trial { get; set; }

    /// <summary>The folder of pg_dump and pg_restore; null where they are found without.</summary>
    public string? Tools { get; set; }
}
