using System.Globalization;
using System.Text;
using DapperLantern.Tests.Shared;
using Microsoft.CodeAnalysis;
using Microsoft.CodeAnalysis.CSharp;
using Microsoft.CodeAnalysis.CSharp.Syntax;

namespace DapperLantern.App.Tests.Data;

/// <summary>A statement in the sources: its place, its text with numbered parameters, and their types in PostgreSQL.</summary>
internal sealed record SqlInSource(string Place, string Text, IReadOnlyList<string> Types);

/// <summary>The statements that stand whole in the sources of the application. The compiler says of which type each parameter is.</summary>
internal static class SqlTexts
{
    private static readonly string[] Beginnings = ["select", "with", "insert", "update", "delete"];

    /// <summary>The statements, and the places of those that are put together from parts only when they run.</summary>
    public static (IReadOnlyList<SqlInSource> Whole, IReadOnlyList<string> Composed) OfTheApplication() => Of(Compilation(Sources()));

    /// <summary>The statements of one text of C#.</summary>
    public static IReadOnlyList<SqlInSource> Of(string source) => Of(Compilation([.. Sources(), CSharpSyntaxTree.ParseText(source, path: "Sample.cs")]), "Sample.cs").Whole;

    private static (IReadOnlyList<SqlInSource> Whole, IReadOnlyList<string> Composed) Of(CSharpCompilation compilation, string? only = null)
    {
        var (whole, composed) = (new List<SqlInSource>(), new List<string>());
        foreach (var tree in compilation.SyntaxTrees.Where(t => only is null || t.FilePath == only))
        {
            var model = compilation.GetSemanticModel(tree);
            foreach (var text in tree.GetRoot().DescendantNodes().OfType<InterpolatedStringExpressionSyntax>())
                if (model.GetTypeInfo(text).ConvertedType?.Name is "SqlText" or "FormattableString" && IsStatement(text))
                {
                    var place = $"{Path.GetRelativePath(TestServer.Root, tree.FilePath)}:{text.GetLocation().GetLineSpan().StartLinePosition.Line + 1}";
                    if (Read(text, model) is var (sql, types))
                        whole.AddRange(Apart(sql).Where(s => s.Trim().Length > 0).Select(s => Numbered(place, s, types)));
                    else
                        composed.Add(place);
                }
        }
        return (whole, composed);
    }

    private static bool IsStatement(InterpolatedStringExpressionSyntax text) =>
        text.Contents.FirstOrDefault() is InterpolatedStringTextSyntax first
        && Beginnings.Contains(first.TextToken.ValueText.TrimStart().Split([' ', '\n'], 2)[0].ToLowerInvariant());

    // Null where a part of the text is known only when it runs.
    private static (string Sql, List<string> Types)? Read(InterpolatedStringExpressionSyntax text, SemanticModel model)
    {
        var (sql, types) = (new StringBuilder(), new List<string>());
        foreach (var part in text.Contents)
            if (part is InterpolatedStringTextSyntax literal)
                sql.Append(literal.TextToken.ValueText);
            else if (part is InterpolationSyntax { FormatClause: null, Expression: var value })
            {
                types.Add(model.GetTypeInfo(value) is var info ? TypeOf(info.Type ?? info.ConvertedType) : "unknown");
                sql.Append(CultureInfo.InvariantCulture, $"${types.Count}");
            }
            else if (part is InterpolationSyntax { Expression: var inner } && model.GetConstantValue(inner) is { HasValue: true, Value: string constant })
                sql.Append(constant);
            else
                return null;
        return (sql.ToString(), types);
    }

    private static string TypeOf(ITypeSymbol? type) =>
        type switch
        {
            INamedTypeSymbol { OriginalDefinition.SpecialType: SpecialType.System_Nullable_T } nullable => TypeOf(nullable.TypeArguments[0]),
            IArrayTypeSymbol { ElementType.SpecialType: SpecialType.System_Byte } => "bytea",
            IArrayTypeSymbol list when TypeOf(list.ElementType) is not "unknown" and var element => $"{element}[]",
            INamedTypeSymbol { Name: "List", TypeArguments: [var element] } when TypeOf(element) is not "unknown" and var name => $"{name}[]",
            { SpecialType: SpecialType.System_String } => "text",
            { SpecialType: SpecialType.System_Boolean } => "boolean",
            { SpecialType: SpecialType.System_Int16 } => "smallint",
            { SpecialType: SpecialType.System_Int32 } => "integer",
            { SpecialType: SpecialType.System_Int64 } => "bigint",
            { SpecialType: SpecialType.System_Double } => "double precision",
            { SpecialType: SpecialType.System_Single } => "real",
            { SpecialType: SpecialType.System_Decimal } => "numeric",
            { SpecialType: SpecialType.System_DateTime } => "timestamptz",
            { Name: "DateTimeOffset" } => "timestamptz",
            { Name: "DateOnly" } => "date",
            { Name: "TimeOnly" } => "time",
            { Name: "TimeSpan" } => "interval",
            { Name: "Guid" } => "uuid",
            _ => "unknown",
        };

    // The statements of a text, which stand behind one another with semicolons.
    private static IEnumerable<string> Apart(string sql)
    {
        var (start, quoted) = (0, false);
        for (var i = 0; i < sql.Length; i++)
            if (sql[i] == '\'')
                quoted = !quoted;
            else if (sql[i] == ';' && !quoted)
            {
                yield return sql[start..i];
                start = i + 1;
            }
        yield return sql[start..];
    }

    private static SqlInSource Numbered(string place, string sql, List<string> types)
    {
        var used = new List<string>();
        var text = System.Text.RegularExpressions.Regex.Replace(
            sql,
            @"\$(\d+)",
            m =>
            {
                used.Add(types[int.Parse(m.Groups[1].Value, CultureInfo.InvariantCulture) - 1]);
                return $"${used.Count}";
            }
        );
        return new SqlInSource(place, text.Trim(), used);
    }

    private static IEnumerable<SyntaxTree> Sources() =>
        Directory
            .EnumerateFiles(Path.Combine(TestServer.Root, "src", "App"), "*.cs", SearchOption.AllDirectories)
            .Where(f => !f.Contains("Migrations", StringComparison.Ordinal))
            .Select(f => CSharpSyntaxTree.ParseText(File.ReadAllText(f), path: f))
            .Append(CSharpSyntaxTree.ParseText(ImplicitUsings));

    private const string ImplicitUsings = """
        global using System;
        global using System.Collections.Generic;
        global using System.IO;
        global using System.Linq;
        global using System.Net.Http;
        global using System.Threading;
        global using System.Threading.Tasks;
        global using Microsoft.AspNetCore.Builder;
        global using Microsoft.AspNetCore.Hosting;
        global using Microsoft.AspNetCore.Http;
        global using Microsoft.AspNetCore.Routing;
        global using Microsoft.Extensions.Configuration;
        global using Microsoft.Extensions.DependencyInjection;
        global using Microsoft.Extensions.Hosting;
        global using Microsoft.Extensions.Logging;
        global using DapperLantern.Core.Problems;
        """;

    private static CSharpCompilation Compilation(IEnumerable<SyntaxTree> trees) =>
        CSharpCompilation.Create(
            "Statements",
            trees,
            ((string)AppContext.GetData("TRUSTED_PLATFORM_ASSEMBLIES")!)
                .Split(Path.PathSeparator)
                .Where(a => !a.EndsWith("DapperLantern.App.dll", StringComparison.Ordinal))
                .Select(a => MetadataReference.CreateFromFile(a)),
            new CSharpCompilationOptions(OutputKind.DynamicallyLinkedLibrary, nullableContextOptions: NullableContextOptions.Enable)
        );
}
