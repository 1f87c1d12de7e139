using System.Data;
using Wergamon.App.Tracks;
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
        _roots = target.Place == OutputPlace.SourceTree ? LibraryQueries.FolderPaths(connection) : [];
    }

    public IEnumerable<PlanSource> All() => _lines.Select(line => line.Track is { } track ? Of(line, track) : Of(line, line.File!));

    private PlanSource Of(PlanLine line, TrackRow track)
    {
        var master = track.Master;
        var contents = _contents[master.Id];
        var facts = line.Facts;
        var fidelity = line.Stream is null ? master.Fidelity : facts.IsLossless ? Fidelity.Exact : Fidelity.Lossy;
        return new PlanSource(
            track.Id, facts, fidelity, line.FileBytes, NamesOf(contents, track.Title, track.AlbumTitle, line), contents,
            master.TagsFromName)
        {
            Known = line is { Stream: null, IsCutOrJoined: false } ? _known.GetValueOrDefault(master.Id) : null,
            Path = master.Path,
            Root = master.FolderId is { } folder ? _roots.GetValueOrDefault(folder) : null,
            ModifiedAt = master.ModifiedAt,
            Generation = master.Generation,
            Exception = line.Exception,
            Span = SpanOf(line),
        };
    }

    private static PlanSource Of(PlanLine line, PlanFile file)
    {
        var facts = line.Facts;
        var contents = file.Contents;
        return new PlanSource(
            0, facts, facts.IsLossless ? Fidelity.Exact : Fidelity.Lossy, line.FileBytes, NamesOf(contents, line.Title, null, line),
            contents, file.FromName.Count)
        {
            Path = file.Path,
            Root = file.Root,
            ModifiedAt = file.ModifiedAt,
            Exception = line.Exception,
            Span = SpanOf(line),
        };
    }

    private static SourceSpan? SpanOf(PlanLine line) =>
        line.IsCutOrJoined ? new SourceSpan(line.Part?.Range, 1 + line.Appended.Count) : null;

    /// <summary>The fields that names are made of.</summary>
    private static TagSet NamesOf(TagContents contents, string title, string? album, PlanLine line)
    {
        var tags = new TagSet();
        foreach (var field in contents.Fields)
            tags.Set(field.Name, field.Values);
        if (tags[FieldNames.Title].Count == 0)
            tags.Set(FieldNames.Title, title);
        if (tags[FieldNames.Album].Count == 0 && album is not null)
            tags.Set(FieldNames.Album, album);
        foreach (var field in line.OwnFields)
            tags.Set(field.Name, field.Values);
        return tags;
    }
}
