namespace DapperLantern.App.Setup;

/// <summary>Scopes for work that no request begins. A scope has one <see cref="Workspace"/>: the one that is current when its first service asks for it.</summary>
internal static class Scopes
{
    public static async Task<TResult> With<TService, TResult>(this IServiceScopeFactory scopes, Func<TService, Task<TResult>> work)
        where TService : notnull
    {
        await using var scope = scopes.CreateAsyncScope();
        return await work(scope.ServiceProvider.GetRequiredService<TService>());
    }

    public static async Task With<TService>(this IServiceScopeFactory scopes, Func<TService, Task> work)
        where TService : notnull
    {
        await using var scope = scopes.CreateAsyncScope();
        await work(scope.ServiceProvider.GetRequiredService<TService>());
    }
}
