using System.Data.Common;
using System.Runtime.CompilerServices;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Diagnostics;

namespace DapperLantern.App.Data;

/// <summary>Holds the terms of what is read: a statement ends in the database when nobody waits for it any more (<see cref="LanternDb.Aborted"/>), and the connection is kept (<see cref="LanternDb.KeepsConnection"/>).</summary>
internal sealed class ReadInterceptor : DbCommandInterceptor
{
    private readonly ConditionalWeakTable<DbCommand, IDisposable> _watched = [];

    public override async ValueTask<InterceptionResult<DbDataReader>> ReaderExecutingAsync(
        DbCommand command,
        CommandEventData eventData,
        InterceptionResult<DbDataReader> result,
        CancellationToken cancellationToken = default
    )
    {
        if (eventData.Context is LanternDb { KeepsConnection: true } db)
        {
            // It is open already; this counts one that is closed with the context.
            db.KeepsConnection = false;
            await db.Database.OpenConnectionAsync(cancellationToken);
        }
        if (eventData.Context is LanternDb { Aborted: { CanBeCanceled: true } aborted })
            _watched.AddOrUpdate(command, aborted.Register(command.Cancel));
        return result;
    }

    public override ValueTask<DbDataReader> ReaderExecutedAsync(
        DbCommand command,
        CommandExecutedEventData eventData,
        DbDataReader result,
        CancellationToken cancellationToken = default
    )
    {
        Forget(command);
        return ValueTask.FromResult(result);
    }

    public override Task CommandFailedAsync(DbCommand command, CommandErrorEventData eventData, CancellationToken cancellationToken = default)
    {
        Forget(command);
        return Task.CompletedTask;
    }

    private void Forget(DbCommand command)
    {
        if (_watched.TryGetValue(command, out var watch) && _watched.Remove(command))
            watch.Dispose();
    }
}
