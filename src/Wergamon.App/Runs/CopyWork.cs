namespace Wergamon.App.Runs;

/// <summary>Whether copies are being made, for background work that can wait.</summary>
public sealed class CopyWork
{
    private readonly Lock _counting = new();
    private TaskCompletionSource _rest = Rest();
    private int _lanes;

    public CopyWork() => _rest.SetResult();

    /// <summary>A lane has work from now until it says <see cref="End"/>.</summary>
    public void Begin()
    {
        lock (_counting)
        {
            if (_lanes++ == 0)
                _rest = Rest();
        }
    }

    public void End()
    {
        lock (_counting)
        {
            if (--_lanes == 0)
                _rest.SetResult();
        }
    }

    /// <summary>Waits until no copy is being made.</summary>
    public Task WhenAtRestAsync(CancellationToken cancellation)
    {
        lock (_counting)
            return _rest.Task.WaitAsync(cancellation);
    }

    private static TaskCompletionSource Rest() => new(TaskCreationOptions.RunContinuationsAsynchronously);
}
