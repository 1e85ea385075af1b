using System.Runtime.Versioning;
using System.Security.Cryptography;
using System.Text;
using Dapper;
using DapperLantern.App.Campaigns;
using DapperLantern.App.Data;
using Microsoft.AspNetCore.DataProtection;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;
using Microsoft.Extensions.Configuration;
using Microsoft.Extensions.DependencyInjection;
using Npgsql;

namespace DapperLantern.App.Tests.Data;

/// <summary>What must not be had with the database alone, and what the role that the program works as cannot do.</summary>
public sealed class SecretsTests(ServerFixture fixture) : IClassFixture<ServerFixture>
{
    private const string OtherKey = "YW5vdGhlciBrZXksIGFsc28gMzIgYnl0ZXMgbG9uZyE=";

    private TestServer Server => fixture.Server;
    private PersonHash Hashes => Server.Services.GetRequiredService<PersonHash>();

    [Theory]
    [InlineData("create table of_mine (id int)", "42501")]
    [InlineData("alter table lead add column of_mine int", "42501")]
    [InlineData("drop table story_entry", "42501")]
    [InlineData("truncate lead", "42501")]
    [InlineData("delete from \"__EFMigrationsHistory\"", "42501")]
    [InlineData("create role of_mine", "42501")]
    [InlineData("select pg_read_file('/etc/hostname')", "42501")]
    [InlineData("copy lead to program 'cat'", "42501")]
    [InlineData("drop function person_key(text)", "42501")]
    [InlineData("update event set said = '{}'", "42501")]
    [InlineData("delete from event", "42501")]
    [InlineData("truncate event", "42501")]
    public async Task TheProgramsRoleOnlyReadsAndWritesRows(string statement, string refusal)
    {
        await using var working = await Server.Services.GetRequiredService<NpgsqlDataSource>().OpenConnectionAsync();
        (await Should.ThrowAsync<PostgresException>(() => working.ExecuteAsync(statement))).SqlState.ShouldBe(refusal);
        (await working.QuerySingleAsync<bool>("select rolsuper or rolcreaterole or rolcreatedb or rolreplication from pg_roles where rolname = current_user")).ShouldBeFalse();
        (await working.QuerySingleAsync<int>("select count(*)::int from pg_class where relowner = (select oid from pg_roles where rolname = current_user)")).ShouldBe(0);
    }

    [Fact]
    public async Task TheClusterLetsNobodyInWithoutTheirPassword()
    {
        foreach (var role in new[] { "lantern", "lantern_owner", "lantern_app" })
        foreach (var password in new[] { null, "of nobody" })
        {
            var at = new NpgsqlConnectionStringBuilder(Server.ConnectionString)
            {
                Username = role,
                Password = password,
                Pooling = false,
            };
            await using var connection = new NpgsqlConnection(at.ConnectionString);
            await Should.ThrowAsync<NpgsqlException>(() => connection.OpenAsync(), role);
        }
        (await Server.Scalar<int>("select count(*)::int from pg_hba_file_rules where auth_method <> 'scram-sha-256'")).ShouldBe(0);
        (await Server.Scalar<int>("select count(*)::int from pg_authid where rolcanlogin and rolpassword not like 'SCRAM-SHA-256$%'")).ShouldBe(0);
    }

    [Fact]
    public async Task ADatabaseIsServedByItsOwnKeyAlone()
    {
        var refused = await Should.ThrowAsync<InvalidOperationException>(() => Server.Beside($"--Secrets:Key={OtherKey}"));
        refused.Message.ShouldStartWith("Secrets:Key is another than the one this database is kept by.");
        await using var again = await Server.Beside();
    }

    [Fact]
    [SupportedOSPlatform("linux")]
    public void SecretsThatOthersMayReadAreRefused()
    {
        var file = Path.GetTempFileName();
        try
        {
            File.WriteAllText(file, $$"""{ "Secrets": { "Key": "{{TestServer.Key}}" } }""");
            File.SetUnixFileMode(file, UnixFileMode.UserRead | UnixFileMode.UserWrite | UnixFileMode.GroupRead);
            Should.Throw<InvalidOperationException>(() => Added(file)).Message.ShouldContain("Others than its owner");
            File.SetUnixFileMode(file, UnixFileMode.UserRead | UnixFileMode.UserWrite);
            Secrets.Of(Added(file)).For("a").ShouldNotBe(Secrets.Of(Added(file)).For("b"));
            File.Delete(file);
            Should.Throw<InvalidOperationException>(() => Added(file)).Message.ShouldContain("is not there");
        }
        finally
        {
            File.Delete(file);
        }
    }

    [Theory]
    [InlineData(null, "There is no key.")]
    [InlineData("c2hvcnQ=", "The key is too short.")]
    [InlineData("not base64", "The key cannot be read.")]
    public void AKeyIsLongEnoughAndThere(string? key, string sentence) =>
        Should
            .Throw<InvalidOperationException>(() => Secrets.Of(new ConfigurationBuilder().AddInMemoryCollection([new("Secrets:Key", key)]).Build()))
            .Message.ShouldStartWith(sentence);

    [Fact]
    public async Task KeysOfCookiesAndLinksLieWrappedInTheDatabase()
    {
        var kept = await Server.Scalar<string>("select string_agg(xml, '') from data_protection_key");
        kept.ShouldNotContain("masterKey");
        kept.ShouldContain(nameof(KeyUnwrapping));

        // One from before there was wrapping: as data protection wrote it. What it sealed is opened after it was wrapped.
        var name = await EmptyDatabase();
        await using var first = await TestServer.Serve(name);
        await using (var connection = await first.Connect())
        {
            await connection.ExecuteAsync("delete from data_protection_key");
            await connection.ExecuteAsync("insert into data_protection_key (friendly_name, xml) values ('key-of-before', @OpenKey)", new { OpenKey });
        }
        await using var second = await TestServer.Serve(name);
        var seal = second.Services.GetRequiredService<IDataProtectionProvider>().CreateProtector("of the test");
        seal.Unprotect(seal.Protect("kept")).ShouldBe("kept");
        var wrapped = await second.Scalar<string>("select xml from data_protection_key where friendly_name = 'key-of-before'");
        wrapped.ShouldNotContain("masterKey");
        wrapped.ShouldContain("encryptedSecret");
        (await second.Scalar<int>("select count(*)::int from data_protection_key")).ShouldBe(1, "the key from before is opened, so no other was made");
    }

    [Theory]
    [InlineData("+4722334455")]
    [InlineData("ada@holmboe.example")]
    [InlineData("domain:ærlig.example")]
    [InlineData(
        "a text so long that it needs more room than is kept at hand, a text so long that it needs more room than is kept at hand, a text so long that it needs more room than is kept at hand, a text so long that it needs more room than is kept at hand, and some more of it"
    )]
    public async Task TheDatabaseHashesAsTheProgramDoes(string text)
    {
        await using var working = await Server.Services.GetRequiredService<NpgsqlDataSource>().OpenConnectionAsync();
        (await working.QuerySingleAsync<long>("select person_key(@text)", new { text })).ShouldBe(Hashes.KeyOf(text));
        PersonHash.KeyOf(Hashes.Of(text)).ShouldBe(Hashes.KeyOf(text));
        Hashes.Of(text).ShouldBe(Hashes.Keyed(Plain(text)));
        Hashes.Of(text).ShouldNotBe(Plain(text));
        new PersonHash(Convert.FromBase64String(OtherKey)).Of(text).ShouldNotBe(Hashes.Of(text));
    }

    [Fact]
    public void ALinkFromBeforeStillNamesItsPerson()
    {
        var old = Server
            .Services.GetRequiredService<IDataProtectionProvider>()
            .CreateProtector("public-link")
            .Protect(Json.Write(new LinkToken("en", Person: Plain("ada@holmboe.example"))));
        var links = Server.Services.GetRequiredService<PublicLinks>();
        links.Open(old)!.Person.ShouldBe(Hashes.Of("ada@holmboe.example"));
        links.Open(links.Withdraw("ada@holmboe.example", "en").Split('/')[^1])!.Person.ShouldBe(Hashes.Of("ada@holmboe.example"));
    }

    // As data protection writes a key where nothing encrypts it.
    private static string OpenKey =>
        $"""
            <key id="{Guid.NewGuid()}" version="1"><creationDate>{DateTime.UtcNow.AddDays(-3):O}</creationDate><activationDate>{DateTime.UtcNow.AddDays(
                -3
            ):O}</activationDate><expirationDate>{DateTime.UtcNow.AddDays(
                80
            ):O}</expirationDate><descriptor deserializerType="Microsoft.AspNetCore.DataProtection.AuthenticatedEncryption.ConfigurationModel.AuthenticatedEncryptorDescriptorDeserializer, Microsoft.AspNetCore.DataProtection, Version=10.0.0.0, Culture=neutral, PublicKeyToken=adb9793829ddae60"><descriptor><encryption algorithm="AES_256_CBC" /><validation algorithm="HMACSHA256" /><masterKey p4:requiresEncryption="true" xmlns:p4="http://schemas.asp.net/2015/03/dataProtection"><value>{Convert.ToBase64String(
                RandomNumberGenerator.GetBytes(64)
            )}</value></masterKey></descriptor></descriptor></key>
            """;

    private static IConfiguration Added(string file)
    {
        var configuration = new ConfigurationManager();
        configuration["Secrets:File"] = file;
        Secrets.AddFile(configuration);
        return configuration;
    }

    private static byte[] Plain(string text) => SHA256.HashData(Encoding.UTF8.GetBytes(text));

    private string OnDatabase(string name) => new NpgsqlConnectionStringBuilder(Server.ConnectionString) { Database = name, Pooling = false }.ConnectionString;

    private async Task<string> EmptyDatabase()
    {
        var name = $"lantern_secrets_{Guid.NewGuid():N}"[..40];
        await using var connection = new NpgsqlConnection(OnDatabase("postgres"));
        await connection.ExecuteAsync($"create database {name} owner lantern_owner");
        return name;
    }
}
