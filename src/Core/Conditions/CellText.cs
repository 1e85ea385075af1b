using System.Collections.Immutable;
using System.Globalization;
using System.Text;
using DapperLantern.Core.Fields;

namespace DapperLantern.Core.Conditions;

/// <summary>A cell that could not be read: what stands where.</summary>
public sealed class CellTextException(string what, int at) : Exception($"{what} at place {at}")
{
    public int At { get; } = at;
}

/// <summary>
/// What a condition wants of one field, as a unary test of FEEL (Decision Model and Notation 1.3, chapter 10), the language of the cells of decision tables:
/// <c>"NO","SE"</c>, <c>&gt;= 60</c>, <c>[10..20]</c>, <c>not("NO")</c>, <c>contains(lower case(?), "buoy")</c>. The part of it is written and read that the condition
/// language can say.
/// </summary>
public static class CellText
{
    /// <summary>The cell that asks nothing.</summary>
    public const string Any = "-";

    public static string Write(Condition? cell, FieldDefinition field) =>
        cell switch
        {
            null or AllOf { Parts.Length: 0 } => Any,
            Test { Operator: TestOperator.In, Values.Length: > 0 } test => List(test, field),
            Not { Part: Test { Operator: TestOperator.In, Values.Length: > 0 } test } => $"not({List(test, field)})",
            Test { Operator: TestOperator.AtLeast } test => $">= {test.Values[0]}",
            Test { Operator: TestOperator.AtMost } test => $"<= {test.Values[0]}",
            Test { Operator: TestOperator.Between } test => $"[{test.Values[0]}..{test.Values[1]}]",
            Not { Part: Test { Operator: TestOperator.Known } } => "null",
            _ => Expression(cell, field),
        };

    private static string List(Test test, FieldDefinition field) => string.Join(",", test.Values.Select(v => Literal(v, field)));

    private static string Literal(string value, FieldDefinition field) => field.IsNumeric ? value : Quoted(value);

    private static string Quoted(string value) => $"\"{value.Replace("\\", "\\\\", StringComparison.Ordinal).Replace("\"", "\\\"", StringComparison.Ordinal)}\"";

    private static string Expression(Condition cell, FieldDefinition field) =>
        cell switch
        {
            AllOf { Parts.Length: 0 } => "true",
            AnyOf { Parts.Length: 0 } => "false",
            AllOf all => Joined(all.Parts, " and ", field),
            AnyOf any => Joined(any.Parts, " or ", field),
            Not not => $"not({Expression(not.Part, field)})",
            Test test => TestText(test, field),
            _ => throw new InvalidOperationException($"no text for {cell.GetType().Name}"),
        };

    private static string Joined(ImmutableArray<Condition> parts, string joint, FieldDefinition field) =>
        string.Join(joint, parts.Select(p => p is AllOf { Parts.Length: > 1 } or AnyOf { Parts.Length: > 1 } ? $"({Expression(p, field)})" : Expression(p, field)));

    private static string TestText(Test test, FieldDefinition field) =>
        test.Operator switch
        {
            TestOperator.Known => "? != null",
            TestOperator.In => $"? in ({List(test, field)})",
            TestOperator.Contains => Each(test, v => $"contains(lower case(?), {Quoted(v)})"),
            TestOperator.StartsWith => Each(test, v => $"starts with(lower case(?), {Quoted(v)})"),
            TestOperator.BeginsBetween =>
                $"(lower case(?) >= {Quoted(test.Values[0])} and (lower case(?) <= {Quoted(test.Values[1])} or starts with(lower case(?), {Quoted(test.Values[1])})))",
            TestOperator.AtLeast => $"? >= {test.Values[0]}",
            TestOperator.AtMost => $"? <= {test.Values[0]}",
            TestOperator.Between => $"? in [{test.Values[0]}..{test.Values[1]}]",
            TestOperator.Since => $"? >= date and time({Quoted(test.Values[0])})",
            TestOperator.Before => $"? < date and time({Quoted(test.Values[0])})",
            TestOperator.WithinDays => $"? in [now() - duration({Quoted($"P{test.Values[0]}D")})..now()]",
            TestOperator.OlderThanDays => $"? < now() - duration({Quoted($"P{test.Values[0]}D")})",
            TestOperator.Past => "? < now()",
            _ => throw new InvalidOperationException($"no text for {test.Operator}"),
        };

    private static string Each(Test test, Func<string, string> one) => test.Values.Length == 1 ? one(test.Values[0]) : $"({string.Join(" or ", test.Values.Select(one))})";

    /// <summary>Reads a cell; null for one that asks nothing.</summary>
    /// <exception cref="CellTextException">It says something else than the condition language can.</exception>
    public static Condition? Read(string text, FieldDefinition field)
    {
        var trimmed = text.Trim();
        return trimmed is "" or Any ? null : new Reader(trimmed, field).Cell();
    }

    private sealed class Reader(string text, FieldDefinition field)
    {
        private int _at;

        public Condition Cell()
        {
            // Whatever speaks of "?" is an expression; else it is a list of tests.
            var cell = IsExpression() ? Or() : Tests();
            Space();
            return _at == text.Length ? cell : throw Unknown();
        }

        private bool IsExpression()
        {
            var plain = new StringBuilder();
            for (var i = 0; i < text.Length; i++)
                if (text[i] != '"')
                    plain.Append(text[i]);
                else
                    for (i++; i < text.Length && text[i] != '"'; i++)
                        i += text[i] == '\\' ? 1 : 0;
            var words = plain.ToString();
            return words.Contains('?') || words.Contains("true", StringComparison.Ordinal) || words.Contains("false", StringComparison.Ordinal);
        }

        private Condition Tests()
        {
            if (Word("not("))
            {
                var denied = Tests();
                Must(")");
                return new Not(denied);
            }
            if (Word("null"))
                return new Not(new Test(field.Key, TestOperator.Known, []));
            if (Peek() is '[' or '<' or '>')
                return Compared();
            return new Test(field.Key, TestOperator.In, Values());
        }

        private ImmutableArray<string> Values()
        {
            var values = ImmutableArray.CreateBuilder<string>();
            do values.Add(Value());
            while (Word(","));
            return values.ToImmutable();
        }

        private Condition Compared()
        {
            if (Word(">="))
                return Peek() == 'd' ? new Test(field.Key, TestOperator.Since, [Moment()]) : new Test(field.Key, TestOperator.AtLeast, [Number()]);
            if (Word("<="))
                return new Test(field.Key, TestOperator.AtMost, [Number()]);
            if (Word("<"))
                return Earlier();
            Must("[");
            if (Peek() == 'n')
            {
                var days = DaysAgo();
                Must("..");
                Must("now()");
                Must("]");
                return new Test(field.Key, TestOperator.WithinDays, [days]);
            }
            var from = Number();
            Must("..");
            var to = Number();
            Must("]");
            return new Test(field.Key, TestOperator.Between, [from, to]);
        }

        private Test Earlier()
        {
            if (Peek() == 'd')
                return new Test(field.Key, TestOperator.Before, [Moment()]);
            var from = _at;
            Must("now()");
            if (Peek() != '-')
                return new Test(field.Key, TestOperator.Past, []);
            _at = from;
            return new Test(field.Key, TestOperator.OlderThanDays, [DaysAgo()]);
        }

        private Condition Or() => Chain("or", And, parts => new AnyOf(parts));

        private Condition And() => Chain("and", Single, parts => new AllOf(parts));

        private Condition Chain(string joint, Func<Condition> part, Func<ImmutableArray<Condition>, Condition> join)
        {
            var parts = ImmutableArray.Create(part());
            while (Word(joint))
                parts = parts.Add(part());
            return parts.Length == 1 ? parts[0] : join(parts);
        }

        private Condition Single()
        {
            if (Word("true"))
                return new AllOf([]);
            if (Word("false"))
                return new AnyOf([]);
            if (Word("not("))
                return new Not(Closed(Or()));
            if (Word("(lower case(?) >="))
                return Beginning();
            if (Word("("))
                return Merged(Closed(Or()));
            if (Word("contains(lower case(?),"))
                return Closed(new Test(field.Key, TestOperator.Contains, [String()]));
            if (Word("starts with(lower case(?),"))
                return Closed(new Test(field.Key, TestOperator.StartsWith, [String()]));
            Must("?");
            if (Word("!= null"))
                return new Test(field.Key, TestOperator.Known, []);
            if (Word("= null"))
                return new Not(new Test(field.Key, TestOperator.Known, []));
            if (Word("in ("))
                return Closed(new Test(field.Key, TestOperator.In, Values()));
            Word("in ");
            return Compared();
        }

        // The one way in which the standard's own words say "begins from ... to ...".
        private Test Beginning()
        {
            var from = String();
            Must("and");
            Must("(lower case(?) <=");
            var (to, at) = (String(), _at);
            Must("or");
            Must("starts with(lower case(?),");
            if (String() != to)
                throw Unknown(at);
            Must(")");
            Must(")");
            Must(")");
            return new Test(field.Key, TestOperator.BeginsBetween, [from, to]);
        }

        private Condition Closed(Condition inner)
        {
            Must(")");
            return inner;
        }

        // Several words of one test stand as one test.
        private static Condition Merged(Condition inner) =>
            inner is AnyOf { Parts: [Test { Operator: TestOperator.Contains or TestOperator.StartsWith } first, ..] parts }
            && parts.All(p => p is Test t && t.Operator == first.Operator)
                ? first with
                {
                    Values = [.. parts.SelectMany(p => ((Test)p).Values)],
                }
                : inner;

        private string Value() => field.IsNumeric ? Number() : String();

        private string String()
        {
            Must("\"");
            var value = new StringBuilder();
            while (_at < text.Length && text[_at] != '"')
            {
                if (text[_at] == '\\' && _at + 1 < text.Length)
                    _at++;
                value.Append(text[_at++]);
            }
            if (_at++ >= text.Length)
                throw new CellTextException("a text without its end", text.Length);
            return value.ToString();
        }

        private string Number()
        {
            Space();
            var from = _at;
            while (
                _at < text.Length
                && (char.IsAsciiDigit(text[_at]) || text[_at] is '-' or 'E' or 'e' or '+' || (text[_at] == '.' && (_at + 1 >= text.Length || text[_at + 1] != '.')))
            )
                _at++;
            var number = text[from.._at];
            return decimal.TryParse(number, NumberStyles.Float, CultureInfo.InvariantCulture, out _) ? number : throw Unknown(from);
        }

        private string Moment()
        {
            Must("date and time(");
            var moment = String();
            Must(")");
            return moment;
        }

        private string DaysAgo()
        {
            Must("now()");
            Must("-");
            Must("duration(");
            var from = _at;
            var days = String();
            Must(")");
            return days is ['P', .. var number, 'D'] ? number : throw Unknown(from);
        }

        private char Peek()
        {
            Space();
            return _at < text.Length ? text[_at] : '\0';
        }

        private bool Word(string word)
        {
            Space();
            if (!text.AsSpan(_at).StartsWith(word, StringComparison.Ordinal))
                return false;
            _at += word.Length;
            return true;
        }

        private void Must(string word)
        {
            if (!Word(word))
                throw Unknown();
        }

        private void Space()
        {
            while (_at < text.Length && char.IsWhiteSpace(text[_at]))
                _at++;
        }

        private CellTextException Unknown(int? at = null)
        {
            var from = at ?? _at;
            return new CellTextException(from >= text.Length ? "something is missing" : $"\u201c{text[from..Math.Min(text.Length, from + 20)]}\u201d is not understood", from + 1);
        }
    }
}
