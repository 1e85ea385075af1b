using Npgsql;

namespace DapperLantern.App.Tests.Data;

/// <summary>
/// Every statement that stands whole in the sources is prepared against the migrated schema with the types its parameters have in C#: a column that was renamed fails here, without a
/// journey. Statements put together from parts are run by the tests of their capability.
/// </summary>
public sealed class PreparedSqlTests(ServerFixture fixture) : IClassFixture<ServerFixture>
{
    [Fact]
    public async Task EveryStatementFitsTheSchema()
    {
        var (whole, composed) = SqlTexts.OfTheApplication();
        var wrong = await Wrong(whole);
        wrong.ShouldBeEmpty(string.Join("\n", wrong));
        whole.Count.ShouldBeGreaterThan(300);
        composed.Count.ShouldBeLessThan(whole.Count / 2);
    }

    [Theory]
    [InlineData("var id = Guid.NewGuid(); db.Run($\"update lead set version = version + 1 where id = {id}\");", "")]
    [InlineData("var ids = new Guid[0]; db.Run($\"delete from lead_tag where lead_id in (select x from unnest({ids}) x)\");", "")]
    [InlineData("var id = Guid.NewGuid(); db.Run($\"update lead set edition = 1 where id = {id}\");", "42703")]
    [InlineData("var id = 3; db.Run($\"update lead set version = 1 where id = {id}\");", "42883")]
    [InlineData("var names = new string[0]; db.Run($\"select x + 1 from unnest({names}) x\");", "42883")]
    [InlineData("var id = Guid.NewGuid(); db.Run($\"delete from lead where id = {id}; delete from leed where id = {id}\");", "42P01")]
    public async Task ABrokenStatementIsFound(string code, string state) =>
        string.Join(
                ' ',
                (
                    await Wrong(
                        SqlTexts.Of(
                            $"namespace DapperLantern.App.Sample; using DapperLantern.App.Data; internal static class Sample {{ internal static void Do(LanternDb db) {{ {code} }} }}"
                        )
                    )
                ).Select(w => w.Split(' ')[1])
            )
            .ShouldBe(state);

    private async Task<List<string>> Wrong(IReadOnlyList<SqlInSource> statements)
    {
        var wrong = new List<string>();
        await using var connection = await fixture.Server.Connect();
        foreach (var statement in statements)
            try
            {
                var types = statement.Types.Count == 0 ? "" : $"({string.Join(", ", statement.Types)})";
                await using var prepare = new NpgsqlCommand($"prepare tried{types} as {statement.Text}", connection);
                await prepare.ExecuteNonQueryAsync();
                await using var forget = new NpgsqlCommand("deallocate tried", connection);
                await forget.ExecuteNonQueryAsync();
            }
            catch (PostgresException e)
            {
                wrong.Add($"{statement.Place} {e.SqlState} {e.MessageText} in {statement.Text.ReplaceLineEndings(" ")}");
            }
        return wrong;
    }
}
