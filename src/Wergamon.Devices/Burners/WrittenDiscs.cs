using System.Globalization;

namespace Wergamon.Devices.Burners;

/// <summary>The folder of written discs: for each an image, a cue sheet, a note, and disc text where it has some.</summary>
public static class WrittenDiscs
{
    private const string Prefix = "burned-";

    private static readonly string[] Extensions = [".cue", ".bin", ".cdt", ".json"];

    /// <summary>A key that no disc has.</summary>
    public static string NextKey(string folder)
    {
        int last = !PlainFolder.Exists(folder) ? 0
            : PlainFolder.Files(folder, Prefix + "*", withHidden: true)
                .Select(path => Path.GetFileName(path)[Prefix.Length..].Split('.')[0])
                .Select(number => int.TryParse(number, NumberStyles.None, CultureInfo.InvariantCulture, out int known) ? known : 0)
                    .DefaultIfEmpty()
                    .Max();
        return string.Create(CultureInfo.InvariantCulture, $"{Prefix}{last + 1:000}");
    }

    /// <summary>Removes the remains of a disc that was being written when the server ended.</summary>
    public static void RemoveUnfinished(string folder)
    {
        if (!PlainFolder.Exists(folder))
            return;
        foreach (var path in PlainFolder.Files(folder, Prefix + "*", withHidden: true)
            .Where(path => !PlainFile.Exists(Path.Combine(folder, Path.GetFileName(path).Split('.')[0] + ".cue")))
            .ToList())
            PlainFile.Delete(path);
    }

    /// <summary>Throws a disc away; the sheet goes first, so that no half disc is on the shelf.</summary>
    public static void Remove(string folder, string key)
    {
        foreach (var extension in Extensions)
            PlainFile.Delete(Path.Combine(folder, key + extension));
    }
}
