using System.Text.Json;

namespace Wergamon.Core.Sticks;

/// <summary>The file at the top of a stick by which it is known again, wherever it is plugged in.</summary>
/// <param name="Stick">Identifies the stick.</param>
/// <param name="Name">As the person calls it.</param>
public sealed record StickMark(string Stick, string Name)
{
    /// <summary>The name of the file. It is hidden, so that players pass it over.</summary>
    public const string FileName = ".wergamon-stick.json";

    /// <summary>A longer file is no mark, in bytes.</summary>
    public const int MaxLength = 4096;

    public byte[] ToBytes() => JsonSerializer.SerializeToUtf8Bytes(this, StickJson.Default.StickMark);

    /// <summary>Null for anything that is no mark.</summary>
    public static StickMark? Read(ReadOnlySpan<byte> bytes)
    {
        if (bytes.Length > MaxLength)
            return null;
        try
        {
            return JsonSerializer.Deserialize(bytes, StickJson.Default.StickMark) is { Stick.Length: > 0, Name: not null } mark
                ? mark
                : null;
        }
        catch (JsonException)
        {
            return null;
        }
    }
}
