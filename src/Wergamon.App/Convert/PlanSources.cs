using System.Data;
using Wergamon.App.Copies;
using Wergamon.App.Tracks;
using Wergamon.Core.Formats;
using Wergamon.Core.Planning;
using Wergamon.Core.Tags;

namespace Wergamon.App.Convert;

/// <summary>What is known of the sources of a plan.</summary>
internal sealed class PlanSources
{
    private readonly IReadOnlyList<PlanLine> _lines;
    private readonly Dictionary<long, TagContents> _contents;
    private readonly Dictionary<long, KnownSound> _known;
    private readonly Dictionary<long, string> _roots;

    /// <param name="lines">Those with a file that is there.</param>
    /// <param name="known">What the analyses of all copies in the plan found.</param>
    public PlanSources(IDbConnection connection, Target target, IReadOnlyList<PlanLine> lines, Dictionary<long, KnownSound> known)
    {
        (_lines, _known) = (lines, known);
        _contents = LibraryQueries.ContentsOf(connection, lines.Select(line => line.Track?.Master.Id).OfType<long>().Distinct());
        _roots = target.Place == OutputLocation.SourceTree ? LibraryQueries.FolderPaths(connection) : [];
    }

    public IEnumerable<PlanSource> All() => _lines.Select(line => line.Track is { } track ? Of(line, track) : Of(line, line.File!));

    private PlanSource Of(PlanLine line, TrackRow track)
    {
        var master = track.Master;
        var known = line is { Stream: null, IsCutOrJoined: false } ? _known.GetValueOrDefault(master.Id) : null;
        return TrackSources.SourceOf(track, _contents[master.Id], known, line.OwnFields) with
        {
            Facts = line.Facts,
            Fidelity = line.Stream is null ? master.Fidelity : FidelityOf(line.Facts),
            FileBytes = line.FileBytes,
            Root = master.FolderId is { } folder ? _roots.GetValueOrDefault(folder) : null,
            Exception = line.Exception,
            Span = SpanOf(line),
        };
    }

    private static PlanSource Of(PlanLine line, PlanFile file) =>
        new(
            0, line.Facts, FidelityOf(line.Facts), line.FileBytes,
            TrackSources.NamesOf(file.Contents, line.Title, album: null, line.OwnFields), file.Contents, file.FromName.Count)
        {
            Path = file.Path,
            Root = file.Root,
            ModifiedAt = file.ModifiedAt,
            Exception = line.Exception,
            Span = SpanOf(line),
        };

    private static Fidelity FidelityOf(AudioFacts facts) => facts.IsLossless ? Fidelity.Exact : Fidelity.Lossy;

    private static SourceSpan? SpanOf(PlanLine line) =>
        line.IsCutOrJoined ? new SourceSpan(line.Part?.Range, 1 + line.Appended.Count) : null;
}
