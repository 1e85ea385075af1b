namespace DapperLantern.Core.Fields;

/// <summary>Forms of a text for comparison only; never stored in place of what was written.</summary>
public static class Folding
{
    private const string From = "àáâãäåæçèéêëìíîïðñòóôõöøùúûüýþÿœßāăąćčďđēęěğīłńňőřśşšťůűźżž";
    private static readonly string[] To = "a a a a a a ae c e e e e i i i i d n o o o o o o u u u u y th y oe ss a a a c c d d e e e g i l n n o r s s s t u u z z z".Split(' ');

    // For each letter under U+0180 what it folds to; null when the letter itself stays (or is left out).
    private static readonly string?[] Folded = MakeTable();

    /// <summary>Lower case, accents off, everything but letters and digits made one space.</summary>
    public static string Heading(string text)
    {
        var folded = new ValueText(stackalloc char[256]);
        foreach (var upper in text)
        {
            var letter = char.ToLowerInvariant(upper);
            if (letter < 0x180 && Folded[letter] is { } plain)
                folded.Append(plain);
            else if (char.IsLetterOrDigit(letter))
                folded.Append(letter);
            else
                folded.AppendGap();
        }
        return folded.ToString();
    }

    private static string?[] MakeTable()
    {
        var table = new string?[0x180];
        for (var i = 0; i < From.Length; i++)
            table[From[i]] = To[i];
        return table;
    }

    // A text under construction on the stack; longer ones move to the heap.
    private ref struct ValueText(Span<char> room)
    {
        private Span<char> _room = room;
        private int _length;

        public void Append(char letter)
        {
            if (_length == _room.Length)
            {
                Span<char> more = new char[_length * 2];
                _room.CopyTo(more);
                _room = more;
            }
            _room[_length++] = letter;
        }

        public void Append(string letters)
        {
            foreach (var letter in letters)
                Append(letter);
        }

        public void AppendGap()
        {
            if (_length > 0 && _room[_length - 1] != ' ')
                Append(' ');
        }

        public override readonly string ToString() => _room[.._length].TrimEnd(' ').ToString();
    }

    /// <summary>A person's name or any other text, for comparison.</summary>
    public static string Plain(string? text) => text is null ? "" : Heading(text);

    /// <summary>A company's name without its legal form: "Fjordnær Laks AS" and "FJORDNAER LAKS" are one. Never empty when the input has letters.</summary>
    public static string Company(string? name) => LegalForms.TakeOff(Plain(name));
}
