using Wergamon.Core.Tags;

namespace Wergamon.App.Tracks;

/// <summary>
/// A person's own figures of tracks, as tag fields; the interface between the station that keeps them and those that deliver
/// out.
/// </summary>
public interface ITrackNotes
{
    /// <summary>
    /// By track; a field that was not set is omitted, and one without values removes that of the tags.
    /// </summary>
    ILookup<long, TagField> FieldsOf(IReadOnlyCollection<long> trackIds);

    /// <summary>Adopts values set elsewhere. Fields that are not kept are skipped.</summary>
    void Take(long trackId, TagField field);
}
