using DapperLantern.App.Data;
using DapperLantern.App.Data.Records;

namespace DapperLantern.App.Upkeep;

/// <summary>What is done by the calendar.</summary>
internal sealed class UpkeepCapability : ICapability
{
    public void AddServices(WebApplicationBuilder builder)
    {
        builder.AddUpkeep();
    }

    public IReadOnlyList<RecordTable> Tables => UpkeepTables.All;
}
