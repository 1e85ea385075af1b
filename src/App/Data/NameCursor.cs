using System.Text;

namespace DapperLantern.App.Data;

/// <summary>Where a page of a list by name ends, as it is handed to whoever asks for the next.</summary>
public sealed record NameCursor(string Name, Guid Id)
{
    /// <summary>The page of so many of the rows that were read, of which there is one more where there is a next page, and where that begins; null where there is none.</summary>
    public static (T[] Page, string? Next) Page<T>(IReadOnlyList<T> rows, int size, Func<T, (string Name, Guid Id)> of) =>
        rows.Count > size ? ([.. rows.Take(size)], Write(of(rows[size - 1]))) : ([.. rows], null);

    private static string Write((string Name, Guid Id) at) => Convert.ToBase64String(Encoding.UTF8.GetBytes($"{at.Id}{at.Name}"));

    /// <summary>Null for none, and for one that cannot be read: the list then begins anew.</summary>
    public static NameCursor? Read(string? written)
    {
        var room = new byte[(written ?? "").Length];
        if (string.IsNullOrEmpty(written) || !Convert.TryFromBase64String(written, room, out var length))
            return null;
        var text = Encoding.UTF8.GetString(room, 0, length);
        return text.Length >= 36 && Guid.TryParse(text[..36], out var id) ? new NameCursor(text[36..], id) : null;
    }
}
