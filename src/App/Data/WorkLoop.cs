namespace DapperLantern.App.Data;

/// <summary>How work that waits in the database is looked for: again at once while there is some, else when somebody says that there is, or after a pause.</summary>
public static class WorkLoop
{
    private static readonly TimeSpan LookAgain = TimeSpan.FromSeconds(2);

    /// <param name="one">Does one piece of work; false when there is none to go on with.</param>
    /// <param name="failed">Told what went wrong. A connection that breaks shows itself in many ways; whatever it was, it is looked again after the pause.</param>
    public static async Task Run(Func<Task<bool>> one, SemaphoreSlim wake, Action<Exception> failed, CancellationToken stop)
    {
        while (!stop.IsCancellationRequested)
            try
            {
                if (!await one())
                    await wake.WaitAsync(LookAgain, stop);
            }
            catch (OperationCanceledException) when (stop.IsCancellationRequested)
            {
                return;
            }
            catch (Exception e) when (e is not OutOfMemoryException)
            {
                failed(e);
                await Task.Delay(LookAgain, stop);
            }
    }
}
