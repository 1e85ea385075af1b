using System.Text;
using DapperLantern.App.Intake.Lists;

namespace DapperLantern.App.Tests.Intake.Lists;

public sealed class CardAndJsonTests
{
    private const string Card21 =
        "BEGIN:VCARD\r\nVERSION:2.1\r\nN;CHARSET=UTF-8;ENCODING=QUOTED-PRINTABLE:N=C3=A6rum;=C3=85se\r\nORG:Krager=C3=B8;Labor\r\nTEL;WORK;VOICE:+47 22 55 01 43\r\nEMAIL;INTERNET:ase@kragero.example\r\nNOTE;ENCODING=QUOTED-PRINTABLE:wants two=\r\n buoys\r\nEND:VCARD\r\n";
    private const string Card30 =
        "BEGIN:VCARD\nVERSION:3.0\nFN:Tor Vik\nN:Vik;Tor;;;\nORG:Fjordnær Laks AS\nTITLE:Drift\\, laks\nTEL;TYPE=CELL:+47 900 12 345\nADR;TYPE=WORK:;;Kaiveien 2;Bergen;;5003;Norway\nURL:https://fjordnaer.example\nEND:VCARD\n";
    private const string Card40 =
        "BEGIN:VCARD\nVERSION:4.0\nFN:Ragna Sollid\nitem1.EMAIL;PREF=1:ragna@sol\n lid.example\nTEL;VALUE=uri;TYPE=\"voice,work\":tel:+44-1632-960143\nLANG:no\nCATEGORIES:expo,buoys\nEND:VCARD\n";

    [Fact]
    public void CardsOfAllVersionsManyInAFileAreRead()
    {
        var cards = Read.Named(Read.Bytes(Card21 + Card30 + "\n" + Card40));
        cards.Count.ShouldBe(3);
        (cards[0]["First name"], cards[0]["Last name"], cards[0]["Mail"], cards[0]["Notes"]).ShouldBe(("Åse", "Nærum", "ase@kragero.example", "wants two buoys"));
        (cards[1]["Mobile"], cards[1]["Job title"], cards[1]["Place"], cards[1]["Postal code"]).ShouldBe(("+47 900 12 345", "Drift, laks", "Bergen", "5003"));
        (cards[2]["First name"], cards[2]["Mail"], cards[2]["Phone"]).ShouldBe(("Ragna", "ragna@sollid.example", "+44-1632-960143"));
    }

    [Fact]
    public void ACardThatIsNotClosedComesBrokenAndTheNextIsRead()
    {
        var (_, rows) = Read.All(Read.Bytes(Card30.Replace("END:VCARD\n", "", StringComparison.Ordinal) + Card40));
        rows[0].Broken.ShouldNotBeNull();
        rows[0].Cells[0].ShouldContain("Fjordnær Laks");
        rows[1].Cells[0].ShouldBe("Ragna");
    }

    [Theory]
    [InlineData("[{\"name\":\"Tor Vik\",\"mail\":\"t@v.example\"},{\"name\":\"Ragna\",\"mail\":\"r@s.example\",\"staff\":12}]", "json")]
    [InlineData("{\"made\":\"2026\",\"people\":[{\"name\":\"Tor Vik\",\"mail\":\"t@v.example\"},{\"name\":\"Ragna\",\"mail\":\"r@s.example\",\"staff\":12}]}", "json")]
    [InlineData("{\"name\":\"Tor Vik\",\"mail\":\"t@v.example\"}\n{\"name\":\"Ragna\",\"mail\":\"r@s.example\",\"staff\":12}\n", "json-lines")]
    public void RecordsAreReadHoweverTheyAreWrapped(string text, string format)
    {
        Read.Detected(Read.Bytes(text)).Format.ShouldBe(format);
        var rows = Read.Named(Read.Bytes(text));
        rows.Select(r => r["name"]).ShouldBe(["Tor Vik", "Ragna"]);
        rows[1]["staff"].ShouldBe("12");
    }

    [Fact]
    public void NestedNamesAreJoinedAndListsAreGathered() =>
        Read.Named(Read.Bytes("[{\"person\":{\"first\":\"Tor\",\"mails\":[\"a@b.example\",\"c@d.example\"]},\"ok\":true,\"none\":null}]"))
            .Single()
            .ShouldBe(
                new Dictionary<string, string>
                {
                    ["person.first"] = "Tor",
                    ["person.mails"] = "a@b.example, c@d.example",
                    ["ok"] = "true",
                }
            );

    [Fact]
    public void ABrokenLineIsSetAsideAndTheOthersAreRead()
    {
        var (_, rows) = Read.All(Read.Bytes("{\"name\":\"Tor\",\"mail\":\"t@v.example\"}\n{\"name\":\"Rag\n[1]\n{\"name\":\"Ase\",\"mail\":\"a@v.example\"}\n"));
        rows.Select(r => r.Broken is null).ShouldBe([true, false, false, true]);
        rows[1].Cells[0].ShouldBe("{\"name\":\"Rag");
    }

    [Fact]
    public void ABrokenArrayIsRefusedWithItsPlace() =>
        ListFile.Detect(new MemoryStream(Read.Bytes("[\n{\"name\":\"Tor\",\"mail\":\"t@v.example\"},\n{\"name\":}\n]")), Read.Catalogue).Trouble!.Words.ShouldContain("line 3");

    [Fact]
    public void Utf16JsonIsReadToo() =>
        Read.Named([.. Encoding.Unicode.GetPreamble(), .. Encoding.Unicode.GetBytes("[{\"name\":\"Åse\",\"mail\":\"t@v.example\"}]")])[0]["name"].ShouldBe("Åse");
}
