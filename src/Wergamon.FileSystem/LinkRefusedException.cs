namespace Wergamon.FileSystem;

/// <summary>A path leads through a link, or to something that is no file: it was not opened.</summary>
public sealed class LinkRefusedException(string message) : IOException(message);
