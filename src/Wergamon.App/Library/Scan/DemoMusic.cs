using Wergamon.App.Storage;
using Wergamon.App.Tracks;

namespace Wergamon.App.Library.Scan;

/// <summary>The music that a new library starts with: a music folder that is removed and added with one click.</summary>
public sealed class DemoMusic(AppOptions options, MusicFolders folders, Settings settings)
{
    private const string TakenOutKey = "demo taken out";

    /// <summary>False where the server was started without it.</summary>
    public bool IsOffered => options.DemoFolder is { } folder && PlainFolder.Exists(folder);

    public bool IsIn => Find() is not null;

    /// <summary>Adds it to a library without music folders, unless the person has removed it before.</summary>
    public void BeginWith()
    {
        if (IsOffered && folders.List().Count == 0 && settings.Read(TakenOutKey, TracksJson.Default.String) is null)
            folders.Add(options.DemoFolder);
    }

    /// <summary>Returns the reason if that cannot be done now.</summary>
    public string? PutIn()
    {
        settings.Remove(TakenOutKey);
        return IsOffered && !IsIn ? folders.Add(options.DemoFolder) : null;
    }

    /// <summary>Its files stay, and so do copies that were made of it. Returns the reason if that cannot be done now.</summary>
    public string? TakeOut()
    {
        if (Find() is { } folder && folders.Remove(folder.Id) is { } refusal)
            return refusal;
        settings.Write(TakenOutKey, "yes", TracksJson.Default.String);
        return null;
    }

    private MusicFolder? Find() =>
        options.DemoFolder is { } demo ? folders.List().FirstOrDefault(folder => folder.Path == Files.AllowedPaths.Resolve(demo)) : null;
}
