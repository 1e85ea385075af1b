using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Design;

namespace DapperLantern.App.Data;

/// <summary>Lets <c>./lantern migration NAME</c> build the model without a database.</summary>
public sealed class DesignTimeDb : IDesignTimeDbContextFactory<LanternDb>
{
    public LanternDb CreateDbContext(string[] args) => new(new DbContextOptionsBuilder<LanternDb>().UseNpgsql("Host=127.0.0.1").UseSnakeCaseNamingConvention().Options);
}
