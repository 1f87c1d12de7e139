namespace Wergamon.Core.Sticks;

/// <summary>Compares what a device says of a track with what was written there.</summary>
public static class StickNoteComparison
{
    /// <param name="sent">What the library said when the file was written.</param>
    /// <param name="written">What the file held then: not every format holds every field.</param>
    /// <param name="here">What the library says now.</param>
    /// <param name="there">What the file holds now.</param>
    public static IReadOnlyList<NoteChange> Compare(StickNotes sent, StickNotes written, StickNotes here, StickNotes there) =>
        [.. StickNotes.Fields.Where(field => !there.HasSame(field, written) && !there.HasSame(field, here))
            .Select(field => new NoteChange(field, here[field], there[field], !here.HasSame(field, sent)))];
}
