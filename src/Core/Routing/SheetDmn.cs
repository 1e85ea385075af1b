using System.Collections.Immutable;
using System.Text;
using System.Xml;
using System.Xml.Linq;
using DapperLantern.Core.Fields;

namespace DapperLantern.Core.Routing;

/// <summary>
/// A rule sheet as a decision table of Decision Model and Notation 1.3 (OMG, 2021): hit policy first, an input each column, cells in FEEL. What a sheet says beside
/// its rules stands in an extension element as the standard provides for. Anything that a sheet cannot say is refused with its place.
/// </summary>
public static class SheetDmn
{
    public static XNamespace Dmn { get; } = "https://www.omg.org/spec/DMN/20191111/MODEL/";
    public static XNamespace Ours { get; } = "urn:dapper-lantern:rule-sheet:1";

    /// <summary>Longest text read, in characters.</summary>
    public const int MostCharacters = 5_000_000;

    public static string Write(RuleSheet sheet, FieldCatalogue catalogue)
    {
        var columns = SheetTable.ColumnsOf(sheet);
        var table = new XElement(
            Dmn + "decisionTable",
            new XAttribute("id", "rules"),
            new XAttribute("hitPolicy", "FIRST"),
            Input(SheetTable.Moments, "Moments", "string"),
            columns.Select(c =>
                Input(
                    c,
                    catalogue[c].Label,
                    catalogue[c].IsNumeric ? "number"
                        : catalogue[c].Type == FieldType.Date ? "dateTime"
                        : "string"
                )
            ),
            SheetTable.Outputs.Select(
                (o, i) => new XElement(Dmn + "output", new XAttribute("id", $"output_{i + 1}"), new XAttribute("name", o), new XAttribute("typeRef", "string"))
            ),
            new XElement(Dmn + "annotation", new XAttribute("name", SheetTable.Name)),
            sheet.Rules.Select((r, i) => RuleOf(r, i, columns, catalogue))
        );
        var definitions = new XElement(
            Dmn + "definitions",
            new XAttribute("id", "rule_sheet"),
            new XAttribute("name", "Rule sheet"),
            new XAttribute("namespace", Ours.NamespaceName),
            new XAttribute(XNamespace.Xmlns + "lantern", Ours.NamespaceName),
            new XElement(Dmn + "decision", new XAttribute("id", "routing"), new XAttribute("name", "Routing"), new XElement(Dmn + "extensionElements", Terms(sheet)), table)
        );
        return "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n" + definitions;
    }

    private static XElement Terms(RuleSheet sheet) =>
        new(
            Ours + "terms",
            new XAttribute("answerWithinMinutes", sheet.AnswerWithinMinutes),
            new XAttribute("task", sheet.Task),
            new XAttribute("columns", string.Join(' ', sheet.Columns)),
            new XAttribute("moments", string.Join(' ', sheet.Moments)),
            new XAttribute("warnAtPercent", sheet.Clock.WarnAtPercent),
            new XAttribute("onExpiry", sheet.Clock.OnExpiry),
            new XAttribute("passAtMost", sheet.Clock.PassAtMost),
            sheet.Guards.Select(g => new XElement(
                Ours + "guard",
                new XAttribute("kind", g.Kind),
                new XAttribute("on", g.On),
                g.AwayDays is { } days ? new XAttribute("awayDays", days) : null
            ))
        );

    private static XElement Input(string key, string label, string type) =>
        new(
            Dmn + "input",
            new XAttribute("id", $"input_{key}"),
            new XAttribute("label", label),
            new XElement(Dmn + "inputExpression", new XAttribute("typeRef", type), new XElement(Dmn + "text", key))
        );

    private static XElement RuleOf(Rule rule, int at, ImmutableArray<string> columns, FieldCatalogue catalogue) =>
        new(
            Dmn + "rule",
            new XAttribute("id", IdOf(rule, at)),
            Entry("inputEntry", rule.Moments.IsEmpty ? "-" : string.Join(",", rule.Moments.Select(m => $"\"{m}\""))),
            columns.Select(c => Entry("inputEntry", SheetTable.CellOf(rule, c, catalogue))),
            SheetTable
                .OutputsOf(rule)
                .Select(o => Entry("outputEntry", $"\"{o.Replace("\\", "\\\\", StringComparison.Ordinal).Replace("\"", "\\\"", StringComparison.Ordinal)}\"")),
            Entry("annotationEntry", rule.Name)
        );

    // An XML id begins with a letter or a line.
    private static string IdOf(Rule rule, int at) => XmlConvert.EncodeLocalName(rule.Key.Length == 0 ? $"_{at}" : rule.Key);

    private static XElement Entry(string name, string text) => new(Dmn + name, new XElement(Dmn + "text", text));

    public static SheetReading Read(string text, FieldCatalogue catalogue)
    {
        if (text.Length > MostCharacters)
            return SheetReading.Refused(new Problem("file-too-large", "", $"{MostCharacters / 1_000_000} million"));
        XDocument file;
        try
        {
            using var reader = XmlReader.Create(new StringReader(text), new XmlReaderSettings { DtdProcessing = DtdProcessing.Prohibit, MaxCharactersInDocument = MostCharacters });
            file = XDocument.Load(reader, LoadOptions.SetLineInfo);
        }
        catch (XmlException e)
        {
            return SheetReading.Refused(new Problem("xml-unreadable", "", $"line {e.LineNumber}, place {e.LinePosition}"));
        }
        var problems = new List<Problem>();
        var sheet = new TableReader(catalogue, problems).Sheet(file.Root!);
        return new SheetReading(problems.Count == 0 ? sheet : null, [.. problems]);
    }

    private sealed class TableReader(FieldCatalogue catalogue, List<Problem> problems)
    {
        private static readonly HashSet<string> Known =
        [
            "definitions",
            "decision",
            "decisionTable",
            "extensionElements",
            "input",
            "inputExpression",
            "text",
            "output",
            "annotation",
            "rule",
            "inputEntry",
            "outputEntry",
            "annotationEntry",
            "description",
            "variable",
        ];

        public RuleSheet? Sheet(XElement root)
        {
            if (root.Name != Dmn + "definitions")
                return Wrong(root, "dmn-other", root.Name.LocalName);
            if (root.Descendants().FirstOrDefault(e => e.Name.Namespace == Dmn && !Known.Contains(e.Name.LocalName)) is { } other)
                return Wrong(other, "dmn-construct", other.Name.LocalName);
            if (root.Elements(Dmn + "decision").ToList() is not [var decision] || decision.Elements(Dmn + "decisionTable").ToList() is not [var table])
                return Wrong(root, "dmn-one-table", "");
            if ((string?)table.Attribute("hitPolicy") is not "FIRST")
                return Wrong(table, "dmn-hit-policy", (string?)table.Attribute("hitPolicy") ?? "UNIQUE");
            return Table(decision, table);
        }

        private RuleSheet? Wrong(XElement at, string code, string found)
        {
            problems.Add(new Problem(code, Place(at), found));
            return null;
        }

        private static string Place(XElement at) => ((IXmlLineInfo)at).HasLineInfo() ? $"line {((IXmlLineInfo)at).LineNumber}" : "";

        private RuleSheet? Table(XElement decision, XElement table)
        {
            var inputs = table.Elements(Dmn + "input").Select(i => (At: i, Key: i.Element(Dmn + "inputExpression")?.Element(Dmn + "text")?.Value.Trim() ?? "")).ToList();
            foreach (var (at, key) in inputs.Where(i => i.Key != SheetTable.Moments && catalogue.Find(i.Key) is not { Origin: not FieldOrigin.Arrival }))
                problems.Add(new Problem("field-unknown", Place(at), key));
            var outputs = table.Elements(Dmn + "output").Select(o => (At: o, Name: (string?)o.Attribute("name") ?? "")).ToList();
            foreach (var (at, name) in outputs.Where(o => !SheetTable.Outputs.Contains(o.Name)))
                problems.Add(new Problem("dmn-output", Place(at), name));
            if (problems.Count > 0)
                return null;
            ImmutableArray<string> columns = [.. inputs.Select(i => i.Key).Where(k => k != SheetTable.Moments)];
            var rules = table.Elements(Dmn + "rule").Select(r => Rule(r, [.. inputs.Select(i => i.Key)], [.. outputs.Select(o => o.Name)], columns)).OfType<Rule>();
            return Terms(decision, new RuleSheet(columns, [.. rules], RuleSheet.Empty.AnswerWithinMinutes, RuleSheet.Empty.Task));
        }

        private Rule? Rule(XElement rule, ImmutableArray<string> inputs, ImmutableArray<string> outputs, ImmutableArray<string> columns)
        {
            var asked = rule.Elements(Dmn + "inputEntry").ToList();
            var given = rule.Elements(Dmn + "outputEntry").ToList();
            if (asked.Count != inputs.Length || given.Count != outputs.Length)
            {
                problems.Add(new Problem("dmn-entries", Place(rule), $"{asked.Count} and {given.Count}"));
                return null;
            }
            var places = new Dictionary<string, string>();
            var texts = new Dictionary<string, string>
            {
                [SheetTable.Key] = (string?)rule.Attribute("id") is { } id ? XmlConvert.DecodeName(id)! : "",
                [SheetTable.Name] = rule.Elements(Dmn + "annotationEntry").FirstOrDefault()?.Value.Trim() ?? rule.Element(Dmn + "description")?.Value.Trim() ?? "",
            };
            foreach (var (key, entry) in inputs.Zip(asked).Concat(outputs.Zip(given)))
                (texts[key], places[key]) = (entry.Element(Dmn + "text")?.Value.Trim() ?? "", Place(entry));
            foreach (var output in outputs)
                texts[output] = Unquoted(texts[output]);
            texts[SheetTable.Moments] =
                texts.GetValueOrDefault(SheetTable.Moments, "-") is var moments && moments is "-" or "" ? "" : string.Join(' ', moments.Split(',').Select(m => Unquoted(m.Trim())));
            return SheetTable.RuleOf(texts, columns, catalogue, heading => places.GetValueOrDefault(heading, Place(rule)), problems);
        }

        private static string Unquoted(string text) =>
            text.Length >= 2 && text[0] == '"' && text[^1] == '"' ? text[1..^1].Replace("\\\"", "\"", StringComparison.Ordinal).Replace("\\\\", "\\", StringComparison.Ordinal)
            : text is "-" ? ""
            : text;

        private RuleSheet Terms(XElement decision, RuleSheet sheet)
        {
            if (decision.Element(Dmn + "extensionElements")?.Element(Ours + "terms") is not { } terms)
                return sheet;
            return sheet with
            {
                AnswerWithinMinutes = (int?)terms.Attribute("answerWithinMinutes") ?? sheet.AnswerWithinMinutes,
                Task = (string?)terms.Attribute("task") ?? sheet.Task,
                Columns = Words(terms, "columns", sheet.Columns),
                Moments = Words(terms, "moments", sheet.Moments),
                Clock = new ClockTerms(
                    (int?)terms.Attribute("warnAtPercent") ?? sheet.Clock.WarnAtPercent,
                    (string?)terms.Attribute("onExpiry") ?? sheet.Clock.OnExpiry,
                    (int?)terms.Attribute("passAtMost") ?? sheet.Clock.PassAtMost
                ),
                Guards =
                [
                    .. terms.Elements(Ours + "guard").Select(g => new Guard((string?)g.Attribute("kind") ?? "", (bool?)g.Attribute("on") ?? true, (int?)g.Attribute("awayDays"))),
                ],
            };
        }

        private static ImmutableArray<string> Words(XElement terms, string name, ImmutableArray<string> otherwise) =>
            (string?)terms.Attribute(name) is { } words ? [.. words.Split(' ', StringSplitOptions.RemoveEmptyEntries)] : otherwise;
    }
}
