namespace Wergamon.App.Library;

/// <summary>By what a scan tells that a file is the one it has read before: size in bytes, time of change in Unix milliseconds.</summary>
internal readonly record struct FileStamp(long Bytes, long ModifiedAt)
{
    public static FileStamp Of(FileInfo file) => new(file.Length, new DateTimeOffset(file.LastWriteTimeUtc).ToUnixTimeMilliseconds());
}
