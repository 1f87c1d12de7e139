using Wergamon.App.Sets;
using Wergamon.App.Tags;
using Wergamon.App.Tracks;
using Wergamon.Core.Music;
using Wergamon.Core.Tags;

namespace Wergamon.Web.Pages.Sets;

/// <summary>Opens figures of a set's tracks as changes of their tags.</summary>
public sealed class SetTagSheets(MusicSets sets, TrackNotes notes, LibraryQueries library, TagSheets sheets, CommentSchemes schemes)
{
    /// <param name="own">Names of keys, one a line, for <see cref="KeySpelling.Own"/>.</param>
    /// <returns>The sheet; null with a reason for the person.</returns>
    public (long? Sheet, string? Refusal) Open(SetView view, SetTagChoice choice, KeySpelling spelling, string? own)
    {
        string[] words = [.. (own ?? "").Split('\n').Select(word => word.Trim()).Where(word => word.Length > 0)];
        if (spelling == KeySpelling.Own && KeyNotation.ProblemOf(words) is { } problem)
            return (null, problem);
        sets.Notation = new KeyNotation(spelling, words);
        var tracks = view.Lines.Select(line => line.Track).Where(track => !track.IsMissing).DistinctBy(track => track.CopyId).ToList();
        if (tracks.Count > TagSheets.MaxFiles)
            return (null, $"Tags of at most {TagSheets.MaxFiles:N0} files are written at a time; this set has {tracks.Count:N0}.");
        var changes = ChangesOf(tracks, choice);
        if (changes.Count == 0)
            return (null, "There is nothing to write: analyse the tracks first, and choose what is written.");
        long sheet = sheets.Create(view.Set.Title, [.. changes.Select(change => change.CopyId).Distinct()]);
        sheets.SetFields(sheet, changes);
        return (sheet, null);
    }

    private List<(long CopyId, string Name, IReadOnlyList<string> Values)> ChangesOf(List<SetTrack> tracks, SetTagChoice choice)
    {
        var (marks, scheme, notation) = (notes.Marks(tracks.Select(track => track.TrackId)), schemes.Current, sets.Notation);
        return [
            .. tracks.SelectMany(
                track =>
                {
                    var held = choice.Comment ? library.TagsOf(track.CopyId) : new TagSet();
                    return SetTags.Of(track, marks[track.TrackId], held, choice, notation, scheme);
                },
                (track, field) => (track.CopyId, field.Name, field.Values)),
        ];
    }
}
