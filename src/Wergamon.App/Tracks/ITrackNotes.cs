using Wergamon.Core.Tags;

namespace Wergamon.App.Tracks;

/// <summary>
/// What a person says of tracks beyond their tags, as fields of tags; the seam between the station that keeps it and those that send it
/// out.
/// </summary>
public interface ITrackNotes
{
    /// <summary>
    /// By track; a field that nobody has said anything about is left out, and one without values takes away what the tags hold.
    /// </summary>
    ILookup<long, TagField> FieldsOf(IReadOnlyCollection<long> trackIds);

    /// <summary>Takes over what was said elsewhere. Fields that are not kept are skipped.</summary>
    void Take(long trackId, TagField field);
}
