using DapperLantern.App.Data;
using Microsoft.Extensions.Logging.Abstractions;

namespace DapperLantern.App.Tests.Data;

/// <summary>Background work goes on whatever its steps throw, says how it is, and comes to its end at the stop.</summary>
public sealed class WorkerTests
{
    private sealed class Periodic(Func<CancellationToken, Task> step) : Worker(NullLogger.Instance)
    {
        protected override Task Work(CancellationToken stop) => Every(TimeSpan.FromMilliseconds(5), step, stop);
    }

    private sealed class OnWaking(Func<CancellationToken, Task<bool>> one, SemaphoreSlim wake) : Worker(NullLogger.Instance)
    {
        protected override Task Work(CancellationToken stop) => WhileThereIs(one, wake, stop);
    }

    [Fact]
    public async Task AStepThatFailsIsToldAndDoneAgain()
    {
        var (steps, well, failing) = (0, new TaskCompletionSource(), new TaskCompletionSource<string?>());
        using var worker = new Periodic(_ =>
        {
            steps++;
            if (steps == 1)
                throw new InvalidOperationException("the first step breaks");
            if (steps == 2)
                failing.SetResult(Worker.Failing.GetValueOrDefault(nameof(Periodic)));
            if (steps == 4)
                well.SetResult();
            return Task.CompletedTask;
        });
        var before = Worker.Failures.GetValueOrDefault(nameof(Periodic));
        await worker.StartAsync(default);
        await well.Task.WaitAsync(TimeSpan.FromSeconds(30));
        (await failing.Task).ShouldBe("the first step breaks");
        Worker.Failing.ShouldNotContainKey(nameof(Periodic));
        Worker.Failures[nameof(Periodic)].ShouldBe(before + 1);
        await worker.StopAsync(default);
    }

    [Fact]
    public async Task AStepAtWorkComesToItsEndWhenTheHostStops()
    {
        var (begun, go, ended) = (new TaskCompletionSource(), new TaskCompletionSource(), false);
        using var worker = new Periodic(async cancel =>
        {
            begun.TrySetResult();
            await go.Task.WaitAsync(cancel);
            ended = true;
        });
        await worker.StartAsync(default);
        await begun.Task;
        var stopping = worker.StopAsync(default);
        go.SetResult();
        await stopping;
        ended.ShouldBeTrue();
    }

    [Fact]
    public async Task WhatWaitsIsDoneAtOnceAndWhatIsLeftLaterWhenItIsToldOf()
    {
        var (left, done, wake) = (3, 0, new SemaphoreSlim(0));
        using var worker = new OnWaking(
            _ =>
            {
                if (left == 0)
                    return Task.FromResult(false);
                left--;
                Interlocked.Increment(ref done);
                return Task.FromResult(true);
            },
            wake
        );
        await worker.StartAsync(default);
        await Eventually.Holds(() => Task.FromResult(done == 3));
        left = 2;
        wake.Release();
        await Eventually.Holds(() => Task.FromResult(done == 5));
        await worker.StopAsync(default);
    }
}
