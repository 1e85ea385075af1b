using System.Collections.Frozen;
using System.Globalization;

namespace DapperLantern.Core.Intake;

/// <summary>
/// How likely a text is what somebody wrote, by the letters beyond ASCII in it: each language has its own, names are made of vowels and consonants in turn,
/// a word has one script and no capitals in its midst. Used to choose among the readings that several encodings give of the same bytes.
/// </summary>
public static class LetterOdds
{
    private const string Vowels = "aeiouyàáâãäåæèéêëìíîïòóôõöøùúûüýÿœāăąēĕėęěīĭįıōŏőūŭůűųơưǎ";

    // Letters that names and words of a language hold often, then those it holds at times. Lower case.
    private static readonly (string Often, string AtTimes)[] Languages =
    [
        ("äöüß", "éèáàçëï"),
        ("éèêàçîôëïûâùœ", "öüñ"),
        ("ñáéíóúü", "çªº"),
        ("øåæ", "éäöüòôèá"),
        ("åäö", "éüøæ"),
        ("ãçáéíóõêúâàô", "ü"),
        ("àèìòùé", "íîúó"),
        ("łśążęćńóź", "éöüá"),
        ("ěščřžýáíéúůóťňď", "äöü"),
        ("šžčáíéýľťúňôäĺŕďó", "öü"),
        ("áéíóöőúüű", "ä"),
        ("ăâîșțşţ", "é"),
        ("čšžćđ", "éöü"),
        ("ığşçöüİâ", "î"),
        ("āēīūčšžģķļņ", "ōŗ"),
        ("ąčęėįšųūž", "öü"),
        ("õäöüšž", ""),
        ("ðþæöáéíóúý", ""),
        ("ëïéèöüóĳ", "áê"),
    ];

    private const string RussianOften = "оеаинтсрвлкмдпуяыьгзбчйхжшюц";
    private const string CyrillicAtTimes = "щэфъёіїєґўјљњћђџ";
    private const string GreekOften = "αοισετνηυρπκμλςωγδήίάόέώχθφβξζύϋϊψ";

    // The commonest characters of names of people and companies, in Japanese, Chinese of both scripts.
    private static readonly FrozenSet<char> CommonHan =
        "王李张刘陈杨赵黄周吴徐孙胡朱高林何郭马罗梁宋郑谢韩唐冯于董萧程曹袁邓许傅沈曾彭吕苏卢蒋蔡贾丁魏薛叶阎余潘杜戴夏钟汪田任姜范方石姚谭廖邹熊金陆郝孔白崔康毛邱秦江史顾侯邵孟龙万段雷钱汤尹黎易常武乔贺赖龚文公司有限市区路中国上海北京广州深圳科技贸易集团股份張劉陳楊趙黃吳孫馬羅鄭謝韓馮蕭鄧許蘇盧蔣賈葉閻鍾陸湯龍萬錢顧喬賀賴龔區國廣東灣臺台有限公司企業實業佐藤鈴木高橋田中伊渡辺山本村小林加吉野口松井上清水崎森池橋阿部石川前後藤近岡長谷青坂斎福太西三浦内原和株式会社東京都大阪府県市町丁目日本様部課長明美子一郎次健太誠正智恵子真由伟芳娜秀英敏静丽强磊军洋勇艳杰娟涛超明霞平刚桂建华国志文海玉兰".ToFrozenSet();

    /// <summary>Per letter beyond ASCII: about 1 for a text that reads well, under 0 for one that does not; 0 for a text of ASCII alone.</summary>
    public static double Of(string text)
    {
        Span<double> sums = stackalloc double[Languages.Length];
        var (shared, count) = (0.0, 0);
        for (var i = 0; i < text.Length; i++)
        {
            var letter = text[i];
            if (letter < 0x80)
                continue;
            count++;
            shared += Shape(text, i);
            var lower = char.ToLowerInvariant(letter);
            if (IsLatin(lower))
                for (var l = 0; l < Languages.Length; l++)
                    sums[l] +=
                        Languages[l].Often.Contains(lower, StringComparison.Ordinal) ? 1
                        : Languages[l].AtTimes.Contains(lower, StringComparison.Ordinal) ? 0.1
                        : -1.2;
            else
                shared += Other(letter, lower);
        }
        if (count == 0)
            return 0;
        var best = double.MinValue;
        foreach (var sum in sums)
            best = Math.Max(best, sum);
        return (shared + best) / count;
    }

    private static bool IsLatin(char lower) => lower is >= '\u00df' and < '\u0250' && char.IsLetter(lower);

    // What the letters beside it make of a letter.
    private static double Shape(string text, int at)
    {
        var letter = text[at];
        var before = at > 0 ? text[at - 1] : ' ';
        var after = at + 1 < text.Length ? text[at + 1] : ' ';
        if (!char.IsLetter(letter))
            return Symbol(letter, before, after);
        var odds = 0.0;
        if (char.IsUpper(letter) && char.IsLower(before))
            odds -= 2.5;
        if (char.IsLower(letter) && char.IsUpper(after) && char.IsLower(char.ToLowerInvariant(before)))
            odds -= 1.5;
        if (Script(letter) != 0 && (Mixes(letter, before) || Mixes(letter, after)))
            odds -= 3;
        if (char.ToLowerInvariant(letter) is var lower && IsLatin(lower) && char.IsLetter(before) && char.IsLetter(after))
        {
            // A vowel among vowels, or a consonant among consonants, is seldom.
            var (self, one, two) = (IsVowel(lower), IsVowel(char.ToLowerInvariant(before)), IsVowel(char.ToLowerInvariant(after)));
            odds -= self == one && self == two ? 0.8 : 0;
        }
        else if (
            char.ToLowerInvariant(letter) is var last
            && IsLatin(last)
            && !IsVowel(last)
            && char.IsLetter(before)
            && !IsVowel(char.ToLowerInvariant(before))
            && !char.IsLetter(after)
        )
            // So is a consonant behind another at the end of a word.
            odds -= 0.4;
        return odds;
    }

    private static double Symbol(char letter, char before, char after)
    {
        if (letter is '\ufffd' || char.IsControl(letter) || CharUnicodeInfo.GetUnicodeCategory(letter) is UnicodeCategory.PrivateUse or UnicodeCategory.OtherNotAssigned)
            return -8;
        if (CharUnicodeInfo.GetUnicodeCategory(letter) is UnicodeCategory.NonSpacingMark)
            return -1;
        if (char.IsLetter(before) && char.IsLetter(after))
            return letter is '\u2019' or '\u2013' or '\u00b7' or '\u2010' ? 0.3 : -4;
        return letter
                is '\u20ac'
                    or '\u2013'
                    or '\u2014'
                    or '\u2018'
                    or '\u2019'
                    or '\u201c'
                    or '\u201d'
                    or '\u201e'
                    or '\u2026'
                    or '\u00a0'
                    or '\u00b0'
                    or '\u00a3'
                    or '\u00a7'
                    or '\u00ab'
                    or '\u00bb'
                    or '\u3000'
                    or '\u3001'
                    or '\u3002'
                    or '\u2022'
                ? 0.3
            : char.IsLetter(before) || char.IsLetter(after) ? -3
            : -1.5;
    }

    private static double Other(char letter, char lower) =>
        Script(letter) switch
        {
            1 => RussianOften.Contains(lower, StringComparison.Ordinal) ? (RussianOften.IndexOf(lower, StringComparison.Ordinal) < 16 ? 1 : 0.6)
            : CyrillicAtTimes.Contains(lower, StringComparison.Ordinal) ? -0.3
            : -2,
            2 => GreekOften.Contains(lower, StringComparison.Ordinal) ? 0.9 : -1,
            3 => CommonHan.Contains(letter) ? 1.2 : 0,
            4 => 0.9,
            5 => 0.7,
            6 => 0.6,
            7 => -1,
            _ => char.IsLetter(letter) ? -1 : 0,
        };

    // 1 Cyrillic, 2 Greek, 3 Han, 4 kana, 5 Hangul, 6 Hebrew, Arabic or Thai, 7 half-width kana; 0 for Latin and what is no letter.
    private static int Script(char letter) =>
        letter switch
        {
            >= '\u0400' and < '\u0530' => 1,
            >= '\u0370' and < '\u0400' => 2,
            >= '\u4e00' and < '\ua000' or >= '\u3400' and < '\u4dc0' => 3,
            >= '\u3040' and < '\u3100' => 4,
            >= '\uac00' and < '\ud7b0' => 5,
            >= '\u0590' and < '\u0700' or >= '\u0e00' and < '\u0e80' => 6,
            >= '\uff61' and < '\uffa0' => 7,
            _ => 0,
        };

    private static bool Mixes(char letter, char beside) =>
        char.IsLetter(beside) && Script(beside) != Script(letter) && !(Script(letter) is 3 or 4 or 5 && Script(beside) is 3 or 4 or 5);

    private static bool IsVowel(char lower) => Vowels.Contains(lower, StringComparison.Ordinal);
}
