using System.Text;
using DapperLantern.App.Intake.Lists;

namespace DapperLantern.App.Tests.Intake.Lists;

/// <summary>Files that somebody, or something, has damaged: never a crash, always rows or a sentence. Fixed seeds.</summary>
public sealed class FuzzTests
{
    private static readonly byte[][] Whole =
    [
        Encoding.UTF8.GetBytes("Name;Mail;Country;Needed by\n\"Vik; Tor\";tor@vik.example;Norway;17.11.2026\nÅse;ase@n.example;\"Nor\nway\";2026-11-18\n"),
        Encoding.Unicode.GetBytes("Name,Mail\nTor Vik,tor@vik.example\nÅse,ase@n.example\n"),
        Encoding.UTF8.GetBytes("BEGIN:VCARD\nVERSION:2.1\nN;ENCODING=QUOTED-PRINTABLE:V=C3=A6r;Tor\nTEL;CELL:+47 1\nADR:;;a;b;c;d;e\nEND:VCARD\nBEGIN:VCARD\nFN:x\nEND:VCARD\n"),
        Encoding.UTF8.GetBytes("[{\"name\":\"Tor\",\"a\":{\"b\":[1,2,{\"c\":\"\\u00e6\"}]}},{\"name\":\"\\ud800\",\"mail\":\"a@b.example\"}]"),
        Encoding.UTF8.GetBytes("{\"name\":\"Tor\",\"mail\":\"t@v.example\"}\n{\"name\":\"Ragna\"}\n"),
    ];

    private static readonly byte[] Book = WorkbookMaker.Make(
        false,
        new SheetOf(
            "A",
            [
                ["Name", "Mail"],
                ["Tor", "t@v.example"],
                ["Åse", new SheetCell.Number(5)],
            ],
            false,
            "A2:A3"
        )
    );

    [Fact]
    public void ThirtyThousandDamagedTextsGiveRowsOrASentence()
    {
        var random = new Random(20261123);
        for (var n = 0; n < 30_000; n++)
            Try(Damaged(Whole[n % Whole.Length], random));
    }

    [Fact]
    public void DamagedWorkbooksGiveRowsOrASentence()
    {
        var random = new Random(71);
        for (var n = 0; n < 1500; n++)
            Try(Damaged(Book, random));
    }

    private static void Try(byte[] content)
    {
        using var stream = new MemoryStream(content);
        var (reading, trouble) = ListFile.Detect(stream, Read.Catalogue);
        if (reading is null)
        {
            trouble!.Words.ShouldNotBeEmpty();
            return;
        }
        var number = 0;
        foreach (var row in ListFile.Open(stream, reading).Rows)
            row.Number.ShouldBe(++number);
    }

    private static byte[] Damaged(byte[] whole, Random random)
    {
        var bytes = whole.ToList();
        for (var strokes = random.Next(1, 6); strokes > 0 && bytes.Count > 0; strokes--)
        {
            var at = random.Next(bytes.Count);
            switch (random.Next(5))
            {
                case 0:
                    bytes[at] = (byte)random.Next(256);
                    break;
                case 1:
                    bytes.RemoveRange(at, Math.Min(random.Next(1, 20), bytes.Count - at));
                    break;
                case 2:
                    bytes.InsertRange(at, bytes.GetRange(at, Math.Min(random.Next(1, 30), bytes.Count - at)));
                    break;
                case 3:
                    bytes.Insert(at, (byte)"\"\n\r,;{}[]:="[random.Next(11)]);
                    break;
                default:
                    bytes.RemoveRange(at, bytes.Count - at);
                    break;
            }
        }
        return [.. bytes];
    }
}
