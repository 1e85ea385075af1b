using DapperLantern.App.Data;
using DapperLantern.Core.People;
using Microsoft.EntityFrameworkCore;

namespace DapperLantern.App.Setup.SignIn;

/// <summary>The identity provider by which people sign in (OpenID Connect), as an administrator sets it up.</summary>
/// <param name="Name">Stands on the button of the sign-in page.</param>
/// <param name="Issuer">Its address, which is also the name it signs with; empty for no provider.</param>
/// <param name="Scopes">What is asked for beside openid, profile and email; parted by blanks.</param>
/// <param name="Claim">The claim whose values mean roles and teams; empty for none.</param>
/// <param name="Otherwise">Keys of the roles of a person whose values mean none; empty to let nobody in without.</param>
/// <param name="Makes">True to make a person at their first sign-in.</param>
/// <param name="Follows">True to take roles and teams over at each sign-in; false for the first alone.</param>
/// <param name="TrustsAddresses">True where each email address that it sends is the person's, whether it says so or not.</param>
/// <param name="CountsAsStrong">True where a sign-in there is a second step, whether it says so or not.</param>
/// <param name="Only">True where all others than administrators come in by it alone.</param>
/// <param name="SignsOut">True to end the session there, too, when a person signs out here.</param>
public sealed record ProviderSettings(
    [Text(60)] string Name,
    [Text(500)] string Issuer,
    [Text(300)] string ClientId,
    [Text(300)] string Scopes,
    [Text(200)] string Claim,
    [Count(200)] IReadOnlyList<ProviderMap> Maps,
    [Count(20, Each = 60)] IReadOnlyList<string> Otherwise,
    bool Makes,
    bool Follows,
    bool TrustsAddresses,
    bool CountsAsStrong,
    bool Only,
    bool SignsOut
)
{
    public static ProviderSettings None { get; } = new("", "", "", "", "groups", [], [], true, true, false, false, false, true);

    public bool IsOn => Issuer.Length > 0;

    /// <summary>Its address as it is written here, without a line at the end.</summary>
    public string Address => Issuer.TrimEnd('/');
}

/// <summary>The one row of the provider. There is none before the first change.</summary>
public sealed class ProviderRow
{
    public const string TheKey = "provider";

    public string Key { get; set; } = TheKey;

    /// <summary>JSON of <see cref="ProviderSettings"/>.</summary>
    public string Body { get; set; } = "{}";

    /// <summary>The client's secret, sealed; null for a client without.</summary>
    public string? Secret { get; set; }
    public int Version { get; set; } = 1;

    internal static void Map(ModelBuilder model)
    {
        model.Map<ProviderRow>(
            "identity_provider",
            p =>
            {
                p.HasKey(x => x.Key);
                p.Property(x => x.Body).HasColumnType("jsonb");
            }
        );
        model.Map<ProviderValueRow>("provider_value", v => v.HasKey(x => x.Value));
    }

    public static Task<ProviderRow?> Read(LanternDb db) => db.Set<ProviderRow>().AsNoTracking().SingleOrDefaultAsync();
}

/// <summary>A value of the claim that the provider sent of somebody, so that an administrator sees which there are.</summary>
public sealed class ProviderValueRow
{
    public string Value { get; set; } = "";

    /// <summary>When it came last.</summary>
    public DateTime SeenAt { get; set; }
}

/// <summary>The provider as a snapshot of the set-up has it.</summary>
/// <param name="Secret">Sealed; null for none.</param>
public sealed record LiveProvider(ProviderSettings Settings, string? Secret, int Version)
{
    internal static async Task<LiveProvider> Load(LanternDb db) =>
        await ProviderRow.Read(db) is { } row ? new LiveProvider(Json.Read<ProviderSettings>(row.Body), row.Secret, row.Version) : new LiveProvider(ProviderSettings.None, null, 0);

    /// <summary>May somebody with these roles come in by a password, a passkey or a one-time address?</summary>
    public bool LetsInOtherwise(Core.Rights.UserRights rights) => !Settings.IsOn || !Settings.Only || rights.May(Core.Rights.Act.ManagePeople);
}

/// <summary>The identity provider as signing out knows it.</summary>
internal interface IProviderDoor
{
    /// <summary>The address at which a session there ends (OpenID Connect RP-Initiated Logout 1.0); null where sessions there are left alone, or it names no address.</summary>
    /// <param name="token">Of the session that ended here, sealed.</param>
    Task<string?> WayOut(string token, CancellationToken cancel);
}
