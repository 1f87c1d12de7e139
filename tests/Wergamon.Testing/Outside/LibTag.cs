using System.Runtime.InteropServices;

namespace Wergamon.Testing.Outside;

/// <summary>Tags and audio properties as TagLib 1.13 (package libtagc0) reads them.</summary>
public sealed record LibTagReading
{
    public required string Title { get; init; }

    public required string Artist { get; init; }

    public required string Album { get; init; }

    public required string Comment { get; init; }

    public required string Genre { get; init; }

    public required int Year { get; init; }

    public required int Track { get; init; }

    public required int Seconds { get; init; }

    public required int SampleRate { get; init; }

    public required int Channels { get; init; }
}

public static partial class LibTag
{
    private const string Library = "tag_c";

    static LibTag()
    {
        OutsideLibraries.Prepare();
        taglib_set_strings_unicode(1);
    }

    /// <summary>
    /// Has the library read all facts and tags, and takes only numbers of them: its texts are not made for several threads.
    /// </summary>
    public static int ReadNumbers(string path)
    {
        nint file = taglib_file_new(path);
        if (file == 0 || taglib_file_is_valid(file) == 0)
            throw new InvalidDataException($"TagLib does not open {path}");
        int numbers = (int)taglib_tag_track(taglib_file_tag(file)) + taglib_audioproperties_length(taglib_file_audioproperties(file));
        taglib_file_free(file);
        return numbers;
    }

    public static LibTagReading Read(string path)
    {
        nint file = taglib_file_new(path);
        if (file == 0 || taglib_file_is_valid(file) == 0)
            throw new InvalidDataException($"TagLib does not open {path}");
        nint tag = taglib_file_tag(file), sound = taglib_file_audioproperties(file);
        var reading = new LibTagReading
        {
            Title = Text(taglib_tag_title(tag)),
            Artist = Text(taglib_tag_artist(tag)),
            Album = Text(taglib_tag_album(tag)),
            Comment = Text(taglib_tag_comment(tag)),
            Genre = Text(taglib_tag_genre(tag)),
            Year = (int)taglib_tag_year(tag),
            Track = (int)taglib_tag_track(tag),
            Seconds = taglib_audioproperties_length(sound),
            SampleRate = taglib_audioproperties_samplerate(sound),
            Channels = taglib_audioproperties_channels(sound),
        };
        taglib_tag_free_strings();
        taglib_file_free(file);
        return reading;
    }

    private static string Text(nint text) => Marshal.PtrToStringUTF8(text) ?? "";

    [LibraryImport(Library)] private static partial void taglib_set_strings_unicode(int on);
    [LibraryImport(Library, StringMarshalling = StringMarshalling.Utf8)] private static partial nint taglib_file_new(string path);
    [LibraryImport(Library)] private static partial int taglib_file_is_valid(nint file);
    [LibraryImport(Library)] private static partial void taglib_file_free(nint file);
    [LibraryImport(Library)] private static partial nint taglib_file_tag(nint file);
    [LibraryImport(Library)] private static partial nint taglib_file_audioproperties(nint file);
    [LibraryImport(Library)] private static partial nint taglib_tag_title(nint tag);
    [LibraryImport(Library)] private static partial nint taglib_tag_artist(nint tag);
    [LibraryImport(Library)] private static partial nint taglib_tag_album(nint tag);
    [LibraryImport(Library)] private static partial nint taglib_tag_comment(nint tag);
    [LibraryImport(Library)] private static partial nint taglib_tag_genre(nint tag);
    [LibraryImport(Library)] private static partial uint taglib_tag_year(nint tag);
    [LibraryImport(Library)] private static partial uint taglib_tag_track(nint tag);
    [LibraryImport(Library)] private static partial void taglib_tag_free_strings();
    [LibraryImport(Library)] private static partial int taglib_audioproperties_length(nint sound);
    [LibraryImport(Library)] private static partial int taglib_audioproperties_samplerate(nint sound);
    [LibraryImport(Library)] private static partial int taglib_audioproperties_channels(nint sound);
}
