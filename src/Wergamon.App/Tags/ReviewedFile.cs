namespace Wergamon.App.Tags;

/// <summary>The file as the library knew it when its changes were reviewed: <see cref="Files.FileStamp"/>.</summary>
public sealed record ReviewedFile(long Bytes, long ModifiedAt, long Number);
