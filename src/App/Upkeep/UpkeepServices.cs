using DapperLantern.App.Data;
using DapperLantern.App.Setup;
using Quartz;

namespace DapperLantern.App.Upkeep;

/// <summary>Work by the calendar.</summary>
[Settings("Upkeep")]
public sealed class UpkeepSettings
{
    /// <summary>False for a process that leaves it to others.</summary>
    public bool Runs { get; set; } = true;
}

/// <summary>The scheduler: its times lie in the database, and of several processes one does what is due.</summary>
internal static class UpkeepServices
{
    private const string Hourly = "0 7 * * * ?";
    private const string Nightly = "0 20 2 * * ?";

    public static void AddUpkeep(this WebApplicationBuilder builder)
    {
        builder.Services.AddTransient<HourlyUpkeep>().AddTransient<NightlyUpkeep>();
        if (!Settings.Read<UpkeepSettings>(builder.Configuration).Runs)
            return;
        builder.Services.AddQuartz(q =>
        {
            (q.SchedulerName, q.SchedulerId) = ("lantern", "AUTO");
            q.UsePersistentStore(store =>
            {
                store.UseProperties = true;
                store.UseSystemTextJsonSerializer();
                store.UsePostgres(Connections.ForScheduler(builder.Configuration));
                store.UseClustering();
            });
            q.UseDefaultThreadPool(pool => pool.MaxConcurrency = 2);
            Add<HourlyUpkeep>(q, "hourly", Hourly);
            Add<NightlyUpkeep>(q, "nightly", Nightly);
        });
        builder.Services.AddQuartzHostedService(o => (o.WaitForJobsToComplete, o.AwaitApplicationStarted) = (true, true));
    }

    /// <summary>Adds a job of a capability, done each day at a time by UTC. Nothing in a process that leaves upkeep to others.</summary>
    internal static void AddNightly<TJob>(this WebApplicationBuilder builder, string name, string times)
        where TJob : IJob
    {
        if (Settings.Read<UpkeepSettings>(builder.Configuration).Runs)
            builder.Services.AddQuartz(q => Add<TJob>(q, name, times));
    }

    // By UTC. A time that was missed, since nothing ran, is made up for once.
    private static void Add<TJob>(IServiceCollectionQuartzConfigurator q, string name, string times)
        where TJob : IJob =>
        q.ScheduleJob<TJob>(
            trigger => trigger.WithIdentity(name).WithCronSchedule(times, c => c.InTimeZone(TimeZoneInfo.Utc).WithMisfireHandlingInstructionFireAndProceed()),
            job => job.WithIdentity(name).StoreDurably()
        );
}
