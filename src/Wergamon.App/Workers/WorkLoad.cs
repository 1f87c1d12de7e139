using Wergamon.App.Storage;

namespace Wergamon.App.Workers;

/// <summary>How much of the machine runs may use.</summary>
/// <param name="Workers">Tracks at a time.</param>
/// <param name="IsQuiet">True for one worker at low priority.</param>
public sealed record WorkLoadChoice(int Workers, bool IsQuiet);

/// <summary>The person's choice, which applies from the next track on.</summary>
public sealed class WorkLoad(Settings settings, AppOptions options)
{
    private const string Key = "work-load";

    private readonly Lock _reading = new();
    private WorkLoadChoice? _choice;

    /// <summary>The maximum number of workers that can be chosen.</summary>
    public int MaxWorkers => options.WorkerCount;

    public bool IsQuiet => Choice.IsQuiet;

    /// <summary>Tracks that runs may have under way at a time.</summary>
    public int Workers => Choice is { IsQuiet: false } choice ? Math.Clamp(choice.Workers, 1, MaxWorkers) : 1;

    private WorkLoadChoice Choice
    {
        get
        {
            lock (_reading)
                return _choice ??= settings.Read(Key, WorkLoadJson.Default.WorkLoadChoice)
                    ?? new WorkLoadChoice(MaxWorkers, IsQuiet: false);
        }
    }

    /// <param name="workers">0 for one worker at low priority.</param>
    public void Choose(int workers)
    {
        var choice = new WorkLoadChoice(Math.Clamp(workers, 1, MaxWorkers), IsQuiet: workers == 0);
        settings.Write(Key, choice, WorkLoadJson.Default.WorkLoadChoice);
        lock (_reading)
            _choice = choice;
    }
}
