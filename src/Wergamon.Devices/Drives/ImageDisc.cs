using Wergamon.Core.Discs;

namespace Wergamon.Devices.Drives;

/// <summary>Opens a disc from a cue sheet and the files beside it.</summary>
public static class ImageDisc
{
    private const long LongestSheet = 4 << 20;

    /// <exception cref="UnreadableDiscException">The sheet or its files are not a valid disc; the message says why.</exception>
    public static LoadedDisc Open(string cuePath, string key, string label)
    {
        try
        {
            if (PlainFile.Length(cuePath) > LongestSheet)
                throw new UnreadableDiscException("This is not a cue sheet: it is far too long.");
            var sheet = CueSheetReader.Read(PlainFile.ReadAll(cuePath, LongestSheet)).Sheet;
            var folder = Path.GetDirectoryName(cuePath)!;
            var image = DiscImage.Open(sheet, name => OpenBeside(folder, name));
            return new LoadedDisc(key, label, image) { Text = ReadText(sheet, folder) }.WithTitles();
        }
        catch (Exception failure) when (failure is IOException or UnauthorizedAccessException)
        {
            throw new UnreadableDiscException($"The image could not be opened: {failure.Message}", failure);
        }
    }

    /// <summary>Only files in the folder of the sheet itself are opened, whatever path it names.</summary>
    private static FileStream? OpenBeside(string folder, string name)
    {
        var path = Path.Combine(folder, Path.GetFileName(name.Replace('\\', '/')));
        return PlainFile.Exists(path) ? PlainFile.Open(path, FileMode.Open, FileAccess.Read, bufferSize: 0) : null;
    }

    /// <summary>Disc text from the file of packs that the sheet names, or else from its own titles.</summary>
    private static DiscText ReadText(CueSheet sheet, string folder)
    {
        if (sheet.DiscTextFile is { } name)
        {
            using var stream = OpenBeside(folder, name);
            if (stream is { Length: < LongestSheet })
            {
                var packs = new byte[stream.Length];
                stream.ReadExactly(packs);
                return DiscTextPacks.Read(packs).Text;
            }
        }

        var tracks = sheet.Tracks.Where(track => track.Title is not null || track.Performer is not null)
            .GroupBy(track => track.Number)
                .ToDictionary(
                    group => group.Key,
                    group =>
                        new DiscTextEntry
                        {
                            Title = group.First().Title,
                            Performer = group.First().Performer,
                            Songwriter = group.First().Songwriter
                        });
        return new DiscText(new DiscTextEntry { Title = sheet.Title, Performer = sheet.Performer }, tracks);
    }
}
