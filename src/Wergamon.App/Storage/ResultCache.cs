using System.Collections.Concurrent;

namespace Wergamon.App.Storage;

/// <summary>
/// Results that take long to compute and hold until something changes. While changes come without a pause, the last result is
/// returned at once and a new one is computed in the background.
/// </summary>
/// <param name="most">How many results are kept.</param>
internal sealed class ResultCache<TResult>(int most)
{
    private readonly ConcurrentDictionary<string, (long Version, TResult Result)> _kept = new();
    private readonly ConcurrentDictionary<string, Task> _renewals = new();

    /// <param name="key">Identifies the query.</param>
    /// <param name="version">Changes whenever the answer may have changed.</param>
    /// <param name="mayBeOld">True while a slightly outdated answer is good enough.</param>
    public TResult Get(string key, long version, bool mayBeOld, Func<TResult> compute)
    {
        if (_kept.TryGetValue(key, out var kept))
        {
            if (kept.Version == version)
                return kept.Result;
            if (mayBeOld)
            {
                Renew(key, version, compute);
                return kept.Result;
            }
        }

        return Keep(key, version, compute());
    }

    /// <summary>Forgets all results.</summary>
    public void Clear() => _kept.Clear();

    private void Renew(string key, long version, Func<TResult> compute)
    {
        var renewal = new Task(() => Keep(key, version, compute()));
        if (!_renewals.TryAdd(key, renewal))
            return;
        renewal.ContinueWith(_ => _renewals.TryRemove(key, out Task? _), TaskScheduler.Default);
        renewal.Start(TaskScheduler.Default);
    }

    private TResult Keep(string key, long version, TResult result)
    {
        if (_kept.Count >= most)
            _kept.Clear();
        _kept[key] = (version, result);
        return result;
    }
}
