using Wergamon.Core.Formats;
using Wergamon.Core.Planning;

namespace Wergamon.App.Convert;

/// <summary>Which lines of a plan are shown.</summary>
public enum PlanFilter
{
    All,
    Warnings,
    Exceptions,
    LeftOut,
}

/// <summary>A plan computed against the current library and disk.</summary>
public sealed record PlanView(PlanRow Plan, Target Target, string OutputFolder, IReadOnlyList<PlanLine> Lines, long? FreeBytes, int Workers)
{
    private readonly List<PlanLine> _running = [.. Lines.Where(line => line.WillRun)];

    public IReadOnlyList<PlanLine> Running => _running;

    public int Count => _running.Count;

    public long BytesNow => _running.Sum(line => line.FileBytes);

    public long BytesThen => _running.Sum(line => line.Planned!.Size.Bytes);

    public int TagsTotal => _running.Sum(line => line.Planned!.Source.Contents.Count);

    public int TagsKept => _running.Sum(line => line.Planned!.TagsKept);

    /// <summary>Tracks whose coded sound stays as it is.</summary>
    public int CountCarried => _running.Count(line => line.Planned!.Route.IsCarried);

    /// <summary>Tracks that would clip.</summary>
    public int CountClipping => _running.Count(line => line.Planned!.Notes.Any(note => note.Warning == PlanWarning.MayClip));

    public bool IsAllExact => _running.All(line => line.Planned!.Size.Basis == SizeBasis.Exact);

    public bool HasRoom => FreeBytes is not { } free || BytesThen < free;

    /// <summary>How long all of it takes; null if that is unknown for most of it.</summary>
    public TimeSpan? Duration
    {
        get
        {
            var known = _running.Where(line => line.Duration is not null).ToList();
            return known.Count * 2 <= Count
                ? null
                : known.Aggregate(
                    TimeSpan.Zero, (sum, line) => sum + line.Duration!.Value) * ((double)Count / known.Count / Math.Min(Workers, Count));
        }
    }

    /// <summary>Originals that would be moved to the trash and hold more than their copies; 0 if nothing is lost.</summary>
    public int LossyReplacements => Losing.Count();

    /// <summary>What the person has to agree to before the plan starts; null if nothing is lost.</summary>
    public string? Loss => AgreedLoss.Of(Losing);

    private IEnumerable<PlanLine> Losing =>
        Target.Sources == SourceDisposition.TrashAfterProof
            ? _running.Where(line => line is { Track: not null, IsCutOrJoined: false } && !KeepsAll(line.Planned!))
            : [];

    public int CountIn(PlanFilter filter) => Lines.Count(line => line.IsShownIn(filter));

    /// <summary>True if the copy of a track holds everything that the source does.</summary>
    internal static bool KeepsAll(PlanItem item) => item.Route.Fidelity == Fidelity.Exact && item.TagsKept == item.Source.Contents.Count;
}
