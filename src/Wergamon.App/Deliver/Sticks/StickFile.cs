using Wergamon.Core.Sticks;
using Wergamon.Core.Sync;

namespace Wergamon.App.Deliver.Sticks;

/// <summary>A file that was written to a stick.</summary>
/// <param name="Sent">What the library said of the track then.</param>
/// <param name="Held">What the file held then: not every format holds every field.</param>
public sealed record StickFile(WrittenFile File, StickNotes Sent, StickNotes Held);

/// <summary>A file added to a stick by somebody and imported into the library.</summary>
/// <param name="Path">On the stick.</param>
/// <param name="CopyPath">In the library.</param>
/// <param name="Stamp">Of the file on the stick then.</param>
internal sealed record StickImport(string Path, string CopyPath, SyncStamp Stamp);
