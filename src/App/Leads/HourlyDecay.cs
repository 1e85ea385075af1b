using Npgsql;

namespace DapperLantern.App.Leads;

/// <summary>Keeps stored engagement right to the hour. Two processes doing it at once write the same numbers.</summary>
public sealed class HourlyDecay(NpgsqlDataSource source, LeadRescore rescore, TimeProvider clock, ILogger<HourlyDecay> log) : BackgroundService
{
    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        using var timer = new PeriodicTimer(TimeSpan.FromHours(1));
        while (await timer.WaitForNextTickAsync(stoppingToken))
            try
            {
                await using var connection = await source.OpenConnectionAsync(stoppingToken);
                await rescore.Decay(connection, Data.Moments.UtcNow(clock));
            }
            catch (Exception e) when (e is NpgsqlException or InvalidOperationException)
            {
                log.LogWarning(e, "Engagement could not be brought up to the hour; it is tried again in an hour");
            }
    }
}
