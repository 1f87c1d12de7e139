namespace Wergamon.FileSystem;

/// <summary>A path leads through a link, or to something that is not a file: it was not opened.</summary>
public sealed class LinkRefusedException(string message) : IOException(message);
