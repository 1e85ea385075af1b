using DapperLantern.App.Data;
using Npgsql;

namespace DapperLantern.App.Leads;

/// <summary>Tells whoever looks at a lead that it changed. Changes of the table <c>lead</c> tell it by themselves (a trigger); whoever writes only around a lead calls <see cref="Changed"/>.</summary>
public sealed class LeadLive(NpgsqlDataSource source, IHostApplicationLifetime life, ILogger<LeadLive> log) : ChangeFeed(source, Channel, life, log)
{
    public const string Channel = "lead_changed";

    /// <summary>Tells it when the caller's transaction commits.</summary>
    public static Task Changed(LanternDb db, Guid lead) => db.Run($"select pg_notify('lead_changed', {lead}::text)");
}
