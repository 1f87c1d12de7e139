using Wergamon.Core.Sticks;

namespace Wergamon.App.Deliver.Sticks;

/// <summary>A file that somebody put on a stick and that was copied into the library.</summary>
/// <param name="Path">On the stick.</param>
/// <param name="CopyPath">In the library.</param>
/// <param name="Stamp">Of the file on the stick then.</param>
internal sealed record StickImport(string Path, string CopyPath, StickStamp Stamp);
