using System.Runtime.CompilerServices;
using Dapper;

namespace DapperLantern.App.Tests;

/// <summary>Tests look at the database with Dapper, past the application's own door; its columns have snake-case names.</summary>
internal static class DapperNames
{
    [ModuleInitializer]
    internal static void Match() => DefaultTypeMap.MatchNamesWithUnderscores = true;
}
