using Wergamon.Core.Tags;

namespace Wergamon.Core.Formats.Registry;

/// <summary>The proof of a file whose tags were written: the sound is the same, and the tags read back.</summary>
public static class WrittenTags
{
    /// <summary>What is wrong with a file whose tags were written, in words; null when it is as it should be.</summary>
    /// <param name="sound">The hash of the sound before.</param>
    /// <param name="expected">What has to read back, as the dialect holds it; null to look at the sound alone.</param>
    public static string? Verify(this TaggedFormat format, Stream stream, string sound, TagSet? expected)
    {
        if (format.HashSound(stream) != sound)
            return "The audio of the file with the new tags was not the same.";
        if (expected is null)
            return null;
        var back = FileReading.ReadTags(stream);
        foreach (var field in expected.Fields)
        {
            if (!back.Tags[field.Name].SequenceEqual(field.Values))
                return $"The field \"{field.Name}\" did not read back as it was written.";
        }

        return back.Damage.Count > 0 || !format.Dialect.Select(back.Tags).Pictures.SequenceEqual(expected.Pictures)
            ? "The new tags did not read back completely."
            : null;
    }
}
