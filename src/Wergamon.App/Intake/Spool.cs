using System.Globalization;
using System.Security.Cryptography;
using Wergamon.App.Storage;
using Wergamon.Core.Jobs;
using Wergamon.Core.Tags;

namespace Wergamon.App.Intake;

/// <summary>Holds the audio read from discs until its copies are made, one folder per run.</summary>
public sealed class Spool(AppOptions options)
{
    public string FolderOf(long runId) => Path.Combine(options.Folders.Spool, runId.ToString(CultureInfo.InvariantCulture));

    /// <summary>The sound of a track.</summary>
    public string PathOf(long runId, int number) =>
        Path.Combine(FolderOf(runId), number.ToString("00", CultureInfo.InvariantCulture) + ".wav");

    /// <summary>A part of a surround title.</summary>
    public string PathOf(long runId, int number, int part) =>
        Path.Combine(FolderOf(runId), string.Create(CultureInfo.InvariantCulture, $"{number:000}-{part}.wav"));

    /// <summary>Runs that still have audio in the spool.</summary>
    public IReadOnlyList<long> Runs() => PlainFolder.Exists(options.Folders.Spool)
        ? [
            .. PlainFolder.Folders(options.Folders.Spool)
                .Select(path => long.TryParse(Path.GetFileName(path), CultureInfo.InvariantCulture, out long id) ? id : 0)
                .Where(id => id > 0)
        ]
        : [];

    public void Clear(long runId)
    {
        if (PlainFolder.Exists(FolderOf(runId)))
            PlainFolder.RemoveTree(FolderOf(runId));
    }

    /// <summary>Writes pictures beside the audio, where the workers find them.</summary>
    public IReadOnlyList<JobPicture> Lay(long runId, IEnumerable<Picture> pictures)
    {
        var laid = new List<JobPicture>();
        foreach (var picture in pictures)
        {
            // Named by its contents: one that a worker reads at this moment is never written over.
            var name = System.Convert.ToHexStringLower(SHA256.HashData(picture.Data.Span))[..16];
            var path = Path.Combine(FolderOf(runId), $"{(int)picture.Kind}-{name}.picture");
            if (!PlainFile.Exists(path))
            {
                PlainFolder.Create(FolderOf(runId));
                PlainFile.Write(path, picture.Data.ToArray());
            }

            laid.Add(new JobPicture(picture.Kind, path));
        }

        return laid;
    }
}
