using System.Collections.Immutable;
using DapperLantern.Core.Fields;

namespace DapperLantern.Core.People;

/// <summary>Somebody as a line of a list names them.</summary>
/// <param name="Line">Number of the line, from 1.</param>
/// <param name="Role">Key of the role; null where the line names none.</param>
/// <param name="Teams">Keys of the teams.</param>
/// <param name="Problem">Why the line cannot be used; null where it can.</param>
public sealed record NamedPerson(int Line, string Name, string Email, string? Role, ImmutableArray<string> Teams, Problem? Problem);

/// <summary>Reads people out of lines that were typed, or pasted from a sheet: a name and an email address, and in any order a role and teams.</summary>
public static class PeopleText
{
    /// <summary>Most lines that are read.</summary>
    public const int MostLines = 200;

    private static readonly char[] s_marks = [';', ','];
    private static readonly char[] s_tab = ['\t'];

    /// <summary>Reads each line that is not empty. A heading, which is a first line without an address, is passed over; of too many lines none is read.</summary>
    /// <param name="roles">Roles there are: key and name.</param>
    /// <param name="teams">Teams there are: key and name.</param>
    public static ImmutableArray<NamedPerson> Read(string text, IReadOnlyList<Choice> roles, IReadOnlyList<Choice> teams)
    {
        var lines = text.Split('\n').Select((line, i) => (Number: i + 1, Text: line.Trim())).Where(l => l.Text.Length > 0).ToList();
        if (lines.Count > 1 && !lines[0].Text.Contains('@', StringComparison.Ordinal))
            lines.RemoveAt(0);
        if (lines.Count > MostLines)
            return [new NamedPerson(lines[MostLines].Number, "", "", null, [], Problem.Of("people-many", "text", lines.Count, MostLines))];
        var read = lines.Select(l => One(l.Number, l.Text, roles, teams)).ToList();
        var twice = read.Where(p => p.Problem is null).GroupBy(p => p.Email).Where(g => g.Count() > 1).SelectMany(g => g.Skip(1)).Select(p => p.Line).ToHashSet();
        return [.. read.Select(p => twice.Contains(p.Line) ? p with { Problem = new Problem("person-twice", "text", p.Email) } : p)];
    }

    private static NamedPerson One(int number, string line, IReadOnlyList<Choice> roles, IReadOnlyList<Choice> teams)
    {
        var (email, rest) = TakeEmail(line);
        var (name, role) = (new List<string>(), (string?)null);
        var of = new List<string>();
        foreach (var part in rest)
        {
            // A role is named once; what stands after it may be a team of the same name.
            if (role is null && Find(roles, part) is { } known)
                role = known;
            else if (Find(teams, part) is { } team)
                of.Add(team);
            else
                name.Add(part);
        }
        // Before the address stands the name, in one part or in two: "Lie, Ane" is written by some.
        var isTurned = name.Count == 2 && line.IndexOfAny([';', '\t']) < 0 && name.All(n => !n.Contains(' ', StringComparison.Ordinal));
        var whole = isTurned ? $"{name[1]} {name[0]}" : name.FirstOrDefault() ?? "";
        var unread = isTurned ? null : name.ElementAtOrDefault(1);
        Problem? problem =
            email.Length == 0 ? new Problem("email-missing-in-line", "text", line)
            : !EmailReader.IsAddress(email) ? new Problem("email-unreadable", "text", email)
            : whole.Length == 0 ? new Problem("name-missing-in-line", "text", line)
            : unread is not null ? new Problem("piece-unknown", "text", unread)
            : null;
        return new NamedPerson(number, FieldReader.Clean(whole), email.ToLowerInvariant(), role, [.. of.Distinct()], problem);
    }

    // "Ane Lie <ane@fjell.example>" and "Ane Lie; ane@fjell.example" name the same.
    private static (string Email, List<string> Others) TakeEmail(string line)
    {
        var marks = line.Contains('\t', StringComparison.Ordinal) ? s_tab : s_marks;
        var parts = line.Replace('<', marks[0]).Replace('>', marks[0]).Split(marks).SelectMany(Apart).Select(p => p.Trim(' ', '"', '\'')).Where(p => p.Length > 0).ToList();
        var at = parts.FindIndex(IsEmail);
        if (at < 0)
            return ("", parts);
        var email = parts[at];
        parts.RemoveAt(at);
        return (email, parts);
    }

    // "Ane Lie ane@fjell.example": the address stands at the end of its part.
    private static string[] Apart(string part) =>
        part.Trim() is var text && IsEmail(text) && text.LastIndexOf(' ') is > 0 and var at && IsEmail(text[at..]) ? [text[..at], text[(at + 1)..]] : [part];

    private static bool IsEmail(string text) => text.Contains('@', StringComparison.Ordinal);

    private static string? Find(IReadOnlyList<Choice> choices, string written)
    {
        var folded = Folding.Heading(written);
        return folded.Length == 0 ? null : choices.FirstOrDefault(c => Folding.Heading(c.Label) == folded || Folding.Heading(c.Key) == folded)?.Key;
    }
}
