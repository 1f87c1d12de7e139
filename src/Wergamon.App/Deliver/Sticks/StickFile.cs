using Wergamon.Core.Sticks;

namespace Wergamon.App.Deliver.Sticks;

/// <summary>A file that was written to a stick.</summary>
/// <param name="Sent">What the library said of the track then.</param>
/// <param name="Held">What the file held then: not every format holds every field.</param>
public sealed record StickFile(WrittenFile File, StickNotes Sent, StickNotes Held);
