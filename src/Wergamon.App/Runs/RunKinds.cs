namespace Wergamon.App.Runs;

/// <summary>All kinds of run that the stations have registered.</summary>
public sealed class RunKinds(IEnumerable<RunKind> kinds)
{
    private readonly Dictionary<string, RunKind> _kinds = kinds.ToDictionary(kind => kind.Key);

    /// <summary>The kind with this key; a generic one for a run of a later version.</summary>
    public RunKind this[string key] => _kinds.GetValueOrDefault(key) ?? new RunKind(key, Station.Convert, "Working", "done");
}
