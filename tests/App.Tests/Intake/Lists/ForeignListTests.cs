using System.Text;
using DapperLantern.App.Data;
using DapperLantern.App.Intake.Lists;
using DapperLantern.Core.Fields;
using DapperLantern.Core.Intake;
using DapperLantern.Tests.Shared;

namespace DapperLantern.App.Tests.Intake.Lists;

/// <summary>Lists as other programs and other countries write them: letters, separators, sheets, cards.</summary>
public sealed class ForeignListTests
{
    private static readonly FieldCatalogue Catalogue = FieldCatalogue.Build();

    static ForeignListTests() => TextEncoding.Register();

    private static (string? Encoding, EncodingDoubt? Doubt) Detect(string text, string encoding) =>
        TextEncoding.DetectWithDoubt(new MemoryStream(Encoding.GetEncoding(encoding).GetBytes(text)));

    private const string Polish = "Imię;Nazwisko;Miasto\nŁukasz;Wiśniewski;Łódź\nMałgorzata;Dąbrowska;Kraków\nŻaneta;Kędzierska;Gdańsk\nZbigniew;Źródłowski;Poznań\n";
    private const string Czech = "Jméno;Příjmení;Město\nJiří;Dvořák;Plzeň\nLukáš;Černý;Děčín\nŽofie;Růžičková;Třebíč\nOndřej;Šťastný;Hradec Králové\n";
    private const string Hungarian = "Név;Város\nErzsébet Szűcs;Győr\nLőrinc Tóth;Pécs\nÁgnes Kővári;Szolnok\nBálint Hűvös;Székesfehérvár\n";
    private const string Russian = "Имя;Фамилия;Город\nИван;Петров;Москва\nЕкатерина;Соколова;Нижний Новгород\nСергей;Кузнецов;Казань\n";
    private const string German = "Vorname;Nachname;Ort\nJürgen;Müller;Köln\nBärbel;Schröder;Gießen\nSören;Größler;München\n";
    private const string French = "Prénom;Nom;Ville\nHélène;Lefèvre;Orléans\nFrançois;Crèvecœur;Besançon\nZoé;Gagné;Nîmes\n";
    private const string Norwegian = "Fornavn;Etternavn;Sted\nBjørn;Sørensen;Tromsø\nÅse;Nærum;Ålesund\nJørgen;Løkken;Bodø\n";
    private const string Spanish = "Nombre;Apellidos;Ciudad\nÍñigo;Muñoz Peña;Logroño\nBegoña;Núñez;Cádiz\nJosé;Ibáñez;A Coruña\n";
    private const string Turkish = "Ad;Soyad;Şehir\nÇağrı;Yıldız;İzmir\nGülşah;Öztürk;Eskişehir\nŞükrü;Doğan;Muğla\n";
    private const string Greek = "Όνομα;Επώνυμο;Πόλη\nΓιώργος;Παπαδόπουλος;Αθήνα\nΕλένη;Νικολάου;Θεσσαλονίκη\n";
    private const string Japanese = "氏名;会社;市\n佐藤 健太;東京電機株式会社;横浜市\n鈴木 美咲;大阪商事株式会社;大阪市\nやまだ たろう;ミナト水産;神戸市\n";
    private const string Chinese = "姓名;公司;城市\n王伟;上海水产有限公司;上海\n李娜;广州科技有限公司;广州\n张敏;北京贸易有限公司;北京\n";
    private const string Taiwanese = "姓名;公司;城市\n陳怡君;台北水產有限公司;台北\n林志豪;高雄貿易有限公司;高雄\n黃淑芬;台中科技有限公司;台中\n";
    private const string Korean = "이름;회사;도시\n김민수;서울수산;서울\n이지은;부산무역;부산\n박서준;한국전자;인천\n";

    [Theory]
    [InlineData(Polish, "windows-1250")]
    [InlineData(Polish, "iso-8859-2")]
    [InlineData(Czech, "windows-1250")]
    [InlineData(Czech, "iso-8859-2")]
    [InlineData(Hungarian, "windows-1250")]
    [InlineData(Russian, "windows-1251")]
    [InlineData(Russian, "koi8-r")]
    [InlineData(Russian, "iso-8859-5")]
    [InlineData(Russian, "ibm866")]
    [InlineData(German, "windows-1252")]
    [InlineData(German, "macintosh")]
    [InlineData(German, "ibm850")]
    [InlineData(French, "windows-1252")]
    [InlineData(French, "macintosh")]
    [InlineData(Norwegian, "windows-1252")]
    [InlineData(Norwegian, "macintosh")]
    [InlineData(Spanish, "windows-1252")]
    [InlineData(Spanish, "macintosh")]
    [InlineData(Turkish, "windows-1254")]
    [InlineData(Greek, "windows-1253")]
    [InlineData(Japanese, "shift_jis")]
    [InlineData(Japanese, "euc-jp")]
    [InlineData(Chinese, "gb18030")]
    [InlineData(Taiwanese, "big5")]
    [InlineData(Korean, "euc-kr")]
    [InlineData(German, "utf-8")]
    [InlineData(Russian, "utf-16")]
    public void LettersAreReadInTheEncodingTheyWereWrittenIn(string text, string encoding)
    {
        var (found, doubt) = Detect(text, encoding);
        Encoding.GetEncoding(found!).GetString(Encoding.GetEncoding(encoding).GetBytes(text)).ShouldBe(text, $"read as {found}");
        // Where it is in doubt, the right one is shown beside.
        if (doubt is not null)
            doubt.OtherSample.ShouldNotBe(doubt.Sample);
    }

    [Fact]
    public void LettersThatTwoEncodingsReadAlikeWellAreADoubtWithBothReadings()
    {
        var (found, doubt) = Detect("Name;Mail\nK\u00eadra;k@b.example\n", "windows-1252");
        doubt.ShouldNotBeNull();
        doubt.Sample.ShouldNotBe(doubt.OtherSample);
        new[] { found, doubt.Other }.ShouldContain("windows-1250");
    }

    [Fact]
    public void AllEncodingsOfThePlatformMayBeChosenAndEachIsThere()
    {
        TextEncoding.Known.Count.ShouldBeGreaterThan(60);
        foreach (var name in TextEncoding.Known)
            Encoding.GetEncoding(name).ShouldNotBeNull();
    }

    [Theory]
    [InlineData("Name;Mail;Notiz\n\"Berg, Anna\";a@b.example;\"kommt, wenn möglich,\nim Mai; sonst, später,\nruft an\"\nLund;l@b.example;\"eins, zwei, drei,\nvier\"\n", ';')]
    [InlineData("Name,Mail,Note\nBerg,a@b.example,\"one; two; three\nfour; five\"\nLund,l@b.example,six\n", ',')]
    [InlineData("Name\tMail\tNote\nBerg\ta@b.example\tone, two, three\nLund\tl@b.example\tfour, five, six\n", '\t')]
    [InlineData("Name|Mail\nBerg|a@b.example\n", '|')]
    public void TheSeparatorIsToldOverLineBreaksWithinQuotes(string text, char separator) => SeparatedText.DetectSeparator(text).ShouldBe(separator);

    [Fact]
    public void AListWhoseNotesHoldBreaksAndCommasKeepsItsRows()
    {
        var text = new StringBuilder("Name;E-Mail;Bemerkung\n");
        for (var i = 0; i < 8; i++)
            text.Append($"Person {i};p{i}@b.example;\"erstens, zweitens,\ndrittens, viertens,\nfünftens\"\n");
        var stream = new MemoryStream(Encoding.UTF8.GetBytes(text.ToString()));
        var (reading, trouble) = ListFile.Detect(stream, Catalogue);
        trouble.ShouldBeNull();
        var opened = ListFile.Open(stream, reading!);
        opened.Headings.ShouldBe(["Name", "E-Mail", "Bemerkung"]);
        opened.Rows.Count().ShouldBe(8);
    }

    private static (ListReading? Reading, Problem? Trouble, MemoryStream Stream) DetectWorkbook(params SheetOf[] sheets)
    {
        var stream = new MemoryStream(WorkbookMaker.Make(false, sheets));
        var (reading, trouble) = ListFile.Detect(stream, Catalogue);
        return (reading, trouble, stream);
    }

    [Fact]
    public void TheSheetWithTheTableIsTakenNotTheInformationInFront()
    {
        var (reading, trouble, _) = DetectWorkbook(
            new SheetOf(
                "Info",
                [
                    ["Export of our system"],
                    ["made on 3 April"],
                ]
            ),
            new SheetOf(
                "Leads",
                [
                    ["Vorname", "Nachname", "E-Mail"],
                    ["Anna", "Berg", "a@b.example"],
                    ["Tor", "Vik", "t@b.example"],
                ]
            )
        );
        trouble.ShouldBeNull();
        reading!.Sheet.ShouldBe("Leads");
        reading.Sheets.Count.ShouldBe(2);
    }

    [Fact]
    public void AStrictWorkbookIsRead()
    {
        var bytes = WorkbookMaker.Strict(
            WorkbookMaker.Make(
                false,
                new SheetOf(
                    "Leads",
                    [
                        ["Vorname", "E-Mail"],
                        ["Anna", "a@b.example"],
                    ]
                )
            )
        );
        var stream = new MemoryStream(bytes);
        var (reading, trouble) = ListFile.Detect(stream, Catalogue);
        trouble.ShouldBeNull();
        ListFile.Open(stream, reading!).Rows.Single().Cells.ShouldBe(["Anna", "a@b.example"]);
    }

    [Fact]
    public void ACellTooLongForASpreadsheetIsRefusedBeforeItIsReadAgain()
    {
        using var stream = new MemoryStream();
        stream.Write(
            WorkbookMaker.Make(
                false,
                new SheetOf(
                    "Leads",
                    [
                        ["Name", "Mail"],
                        ["Anna", "a@b.example"],
                    ]
                )
            )
        );
        using (var zip = new System.IO.Compression.ZipArchive(stream, System.IO.Compression.ZipArchiveMode.Update, true))
        using (var part = new StreamWriter(zip.CreateEntry("xl/sharedStrings.xml").Open()))
            part.Write($"<sst xmlns=\"http://schemas.openxmlformats.org/spreadsheetml/2006/main\"><si><t>{new string('x', Workbook.MostLettersInCell + 1)}</t></si></sst>");
        ListFile.Detect(stream, Catalogue).Trouble!.Code.ShouldBe("cell-too-long");
    }

    private static Dictionary<string, string> Card(string card) =>
        VCards.Headings.Zip(VCards.Rows(new StringReader(card)).Single().Cells).Where(c => c.Second.Length > 0).ToDictionary(c => c.First, c => c.Second);

    [Fact]
    public void EverythingACardSaysIsKept()
    {
        var card = Card(
            """
            BEGIN:VCARD
            VERSION:3.0
            N:Berg;Anna;;;
            FN:Anna Berg
            EMAIL:anna@b.example
            EMAIL:berg@b.example
            EMAIL:a.berg@home.example
            EMAIL:fourth@b.example
            TEL;TYPE=WORK:+44 1632 960143
            TEL;TYPE=HOME:+44 1632 960144
            TEL;TYPE=CELL:+44 7700 900414
            TEL;TYPE=FAX:+44 1632 960199
            ADR;TYPE=HOME:;;Home Road 1;Bergen;;5003;Norway
            ADR;TYPE=WORK:;;Kaiveien 2;Oslo;;0150;Norway
            URL:https://b.example
            URL:https://more.example
            NOTE:Met at the fair.
            NOTE:Likes buoys.
            BDAY:1980-04-03
            X-SKYPE:anna.b
            END:VCARD
            """
        );
        card["Mail"].ShouldBe("anna@b.example");
        (card["Mail 2"], card["Mail 3"]).ShouldBe(("berg@b.example", "a.berg@home.example"));
        (card["Phone"], card["Phone 2"], card["Mobile"], card["Fax"]).ShouldBe(("+44 1632 960143", "+44 1632 960144", "+44 7700 900414", "+44 1632 960199"));
        (card["Street"], card["Place"]).ShouldBe(("Kaiveien 2", "Oslo"));
        card["Address 2"].ShouldContain("Home Road 1");
        card["Website 2"].ShouldBe("https://more.example");
        card["Notes"].ShouldBe("Met at the fair.\nLikes buoys.");
        foreach (var kept in new[] { "fourth@b.example", "1980-04-03", "anna.b" })
            card["More of the card"].ShouldContain(kept);
    }

    [Theory]
    [InlineData("+4930123456", "+4930123456")]
    [InlineData("-12.5", "-12.5")]
    [InlineData("=1+1", "'=1+1")]
    [InlineData("+1+cmd|' /C calc'!A0", "'+1+cmd|' /C calc'!A0")]
    [InlineData("@sum(1)", "'@sum(1)")]
    [InlineData("-2+3+cmd", "'-2+3+cmd")]
    public void FormulasAreDefusedAndNumbersStayAsTheyAre(string value, string written)
    {
        Csv.Line([value]).TrimEnd().Trim('"').Replace("\"\"", "\"", StringComparison.Ordinal).ShouldBe(written);
        Csv.Meant(written).ShouldBe(value);
    }
}
