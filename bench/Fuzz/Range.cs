using Dapper;
using Npgsql;

namespace DapperLantern.Bench.Fuzz;

/// <summary>A barrage on a server with the demo company: one person of each role, the demo's files, and the pages that stand in no description.</summary>
public sealed class Range(Uri address, NpgsqlDataSource owner, string demoFolder)
{
    private static readonly string[] People = ["samir.haddow", "ingrid.brekke", "harald.quist", "tor.vik", "effie.marlowe", "lucie.armand"];

    private static readonly Dictionary<string, string[]> More = new()
    {
        ["POST /f/price-guide"] = ["_t", "_sum", "_language", "first_name", "last_name", "email", "company", "country", "phone", "note", "consent:news"],
        ["POST /f/site-survey"] = ["_t", "_sum", "first_name", "last_name", "email", "company", "country", "interest"],
        ["POST /consent/withdraw/x"] = ["purpose", "List-Unsubscribe"],
    };

    /// <summary>Sends the requests of a seed.</summary>
    /// <param name="wait">What is done between two parts of a barrage; told how many were sent.</param>
    public async Task<Outcome> Run(int seed, int count, Action<int>? wait = null)
    {
        await using (var connection = await owner.OpenConnectionAsync())
            await connection.ExecuteAsync("drop table if exists fuzz_person; create table fuzz_person as select * from person where user_name = any(@People)", new { People });
        var barrage = new Barrage(address, People, name => Served.SignIn(address, name, TimeSpan.FromSeconds(60)), Repair);
        var operations = await barrage.Learn(Files(), More);
        Outcome outcome;
        const int Part = 5000;
        for (var from = 0; ; from += Part)
        {
            outcome = await barrage.Run(operations, seed, from, Math.Min(count, from + Part));
            wait?.Invoke(Math.Min(count, from + Part));
            if (from + Part >= count)
                return outcome;
        }
    }

    private IReadOnlyList<(string, byte[])> Files() =>
        [
            .. new[] { "lists", "letters" }
                .SelectMany(f => Directory.GetFiles(Path.Combine(demoFolder, f)))
                .Order(StringComparer.Ordinal)
                .Select(f => (Path.GetFileName(f), File.ReadAllBytes(f))),
            (
                "days.ics",
                "BEGIN:VCALENDAR\r\nVERSION:2.0\r\nBEGIN:VEVENT\r\nDTSTART;VALUE=DATE:20261225\r\nRRULE:FREQ=YEARLY\r\nSUMMARY:Christmas\r\nEND:VEVENT\r\nEND:VCALENDAR\r\n"u8.ToArray()
            ),
            ("cards.vcf", "BEGIN:VCARD\r\nVERSION:3.0\r\nFN:Ada Holm\r\nEMAIL:ada@holm.example\r\nTEL:+47 22 33 44 55\r\nEND:VCARD\r\n"u8.ToArray()),
            ("costs.csv", "day;amount;what\r\n2026-11-02;1200;stand\r\n"u8.ToArray()),
        ];

    // Requests end people's work here, and change what they may do.
    private async Task Repair()
    {
        await using var connection = await owner.OpenConnectionAsync();
        await connection.ExecuteAsync(
            """
            update person p set here = b.here, roles = b.roles, password_hash = b.password_hash, user_name = b.user_name, normalized_user_name = b.normalized_user_name
              from fuzz_person b where b.id = p.id;
            delete from sign_in_failure;
            """
        );
    }
}
