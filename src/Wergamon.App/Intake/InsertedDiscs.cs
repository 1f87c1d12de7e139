using System.Collections.Concurrent;
using Microsoft.Extensions.Hosting;
using Microsoft.Extensions.Logging;
using Wergamon.App.Storage;
using Wergamon.Core.Discs;
using Wergamon.Core.Discs.Reading;
using Wergamon.Core.Tags;
using Wergamon.Devices.Catalogue;
using Wergamon.Devices.Drives;

namespace Wergamon.App.Intake;

public enum LookUpState
{
    Asking,
    Found,
    Unknown,
    Failed,
}

/// <summary>Looks up inserted discs and stores the names chosen or typed for them.</summary>
public sealed class InsertedDiscs(
    DriveBay bay, DiscStore discs, IDiscCatalogue catalogue, IReadingLedger ledger, DiscRenames renames, Signals signals,
    ILogger<InsertedDiscs> logger)
    : IHostedService, IDisposable
{
    private readonly ConcurrentDictionary<string, InsertedDisc> _inserted = new();
    private readonly CancellationTokenSource _stop = new();

    /// <summary>Raised when the lookup of a disc that was inserted by hand has ended, whatever it found.</summary>
    public event Action<InsertedDisc>? LookedUp;

    public InsertedDisc? On(string letter) => _inserted.GetValueOrDefault(letter);

    /// <summary>Asks the catalogue again.</summary>
    public void LookUpAgain(string letter)
    {
        if (On(letter) is { State: not LookUpState.Asking } inserted)
            _ = LookUpAsync(inserted with { State = LookUpState.Asking }, isNew: false);
    }

    /// <summary>Adopts the names and cover of a candidate.</summary>
    public void Choose(string letter, int candidate)
    {
        if (On(letter) is { } inserted && candidate >= 0 && candidate < inserted.Candidates.Count)
            TakeNames(inserted, inserted.Candidates[candidate]);
    }

    /// <summary>Saves typed names for the disc in a drive.</summary>
    public void Rename(string letter, DiscAlbum album)
    {
        if (On(letter) is not { } inserted)
            return;
        discs.Rename(inserted.DiscId, album, NamedBy.Typed);
        renames.Follow(inserted.DiscId);
        signals.Send(new Signal(Signal.Disc));
    }

    /// <summary>Sets a picture of the disc in a drive; returns the reason, for the person, when it is not a picture.</summary>
    public string? SetPicture(string letter, PictureKind kind, ReadOnlyMemory<byte> data)
    {
        if (On(letter) is not { } inserted)
            return "There is no disc in the drive.";
        if (PictureSize.MimeTypeOf(data.Span) is null)
            return "This is not a JPEG or PNG picture.";
        discs.SetPicture(inserted.DiscId, kind, data);
        renames.Follow(inserted.DiscId);
        signals.Send(new Signal(Signal.Disc));
        return null;
    }

    /// <summary>Removes a picture from the disc in a drive. Copies that have it keep it until the disc has another.</summary>
    public void RemovePicture(string letter, PictureKind kind)
    {
        if (On(letter) is not { } inserted)
            return;
        discs.RemovePicture(inserted.DiscId, kind);
        renames.Follow(inserted.DiscId);
        signals.Send(new Signal(Signal.Disc));
    }

    public Task StartAsync(CancellationToken cancellationToken)
    {
        bay.Changed += OnChanged;
        foreach (var tray in bay.Trays)
            Guard.Try(logger, $"Reading the disc in drive {tray.Letter}", () => Lay(tray, isNew: false));
        return Task.CompletedTask;
    }

    public Task StopAsync(CancellationToken cancellationToken)
    {
        bay.Changed -= OnChanged;
        return _stop.CancelAsync();
    }

    public void Dispose() => _stop.Dispose();

    private void OnChanged(IDriveTray tray) => Guard.Try(logger, $"Reading the disc in drive {tray.Letter}", () => Lay(tray, isNew: true));

    private void Lay(IDriveTray tray, bool isNew)
    {
        _inserted.TryRemove(tray.Letter, out _);
        if (tray.Disc is { } disc)
        {
            var contents = disc.Image.Contents;
            var row = discs.Find(contents) ?? AddUnnamed(disc, contents);
            var others = ledger.Find(contents).Select(entry => new OtherReadings(entry.Number, entry.Crc32, entry.Readings)).ToList();
            var inserted = new InsertedDisc(tray.Letter, disc, row.Id, LookUpState.Asking, [], others);
            _inserted[tray.Letter] = inserted;
            _ = LookUpAsync(inserted, isNew);
        }

        signals.Send(new Signal(Signal.Disc));
    }

    private DiscRow AddUnnamed(LoadedDisc disc, TableOfContents contents) => disc.Titles.Count > 0
        ? discs.Add(
            contents,
            new DiscAlbum
            {
                Disc = disc.Titles[0].Disc,
                DiscTotal = disc.Titles.Max(title => title.Disc),
                Tracks = [.. disc.Titles.Select(title => new DiscTitle(title.Number, ""))]
            },
            NamedBy.None)
        : DiscAlbum.From(disc.Text, contents) is { } named
        ? discs.Add(contents, named, NamedBy.DiscText)
        : discs.Add(contents, DiscAlbum.Empty(contents), NamedBy.None);

    private async Task LookUpAsync(InsertedDisc inserted, bool isNew)
    {
        Replace(inserted);
        try
        {
            var found = await catalogue.FindAsync(inserted.Contents, _stop.Token).ConfigureAwait(false);
            inserted = inserted with
            {
                State = found.Count > 0 ? LookUpState.Found : LookUpState.Unknown,
                Candidates = found,
                Failure = null
            };
            // Names that a person has chosen or typed before are better than any catalogue's.
            if (found.Count > 0 && discs.Get(inserted.DiscId)?.NamedBy is NamedBy.None or NamedBy.DiscText)
                inserted = TakeNames(inserted, found[0]);
        }
        catch (CatalogueException failure)
        {
            logger.LogWarning("Drive {Letter}: {Reason}", inserted.Letter, failure.Message);
            inserted = inserted with { State = LookUpState.Failed, Failure = failure.Message };
        }
        catch (OperationCanceledException)
        {
            return;
        }
        catch (Exception failure)
        {
            logger.LogError(failure, "Drive {Letter}: the look-up failed", inserted.Letter);
            inserted = inserted with
            {
                State = LookUpState.Failed,
                Failure = "The catalogue's answer could not be used. The log has the details."
            };
        }

        if (!Replace(inserted))
            return;
        signals.Send(new Signal(Signal.Disc));
        if (isNew)
            LookedUp?.Invoke(inserted);
    }

    /// <summary>Replaces the state of a disc; false when the disc was ejected meanwhile.</summary>
    private bool Replace(InsertedDisc inserted)
    {
        while (_inserted.TryGetValue(inserted.Letter, out var before) && before.Disc == inserted.Disc)
        {
            if (_inserted.TryUpdate(inserted.Letter, inserted, before))
                return true;
        }

        return false;
    }

    private InsertedDisc TakeNames(InsertedDisc inserted, CatalogueEntry entry)
    {
        var empty = inserted.IsSurround
            ? new DiscAlbum { Tracks = [.. inserted.Disc.Titles.Select(title => new DiscTitle(title.Number, ""))] }
            : DiscAlbum.Empty(inserted.Contents);
        var album = empty with
        {
            Artist = entry.Record.Artist,
            Title = entry.Record.Title,
            Year = entry.Record.Year,
            Genre = entry.Record.Genre ?? "",
            Disc = entry.Record.Disc,
            DiscTotal = entry.Record.DiscTotal,
        };
        album = album.WithTitles([.. entry.Record.Tracks.Select((track, i) => new DiscTitle(i + 1, track.Title, track.Artist))]);
        // Copies made under other names keep the disc they came from.
        if (discs.WasRead(inserted.DiscId) && discs.Get(inserted.DiscId)!.ReadAlbum() is var before
            && (before.Artist, before.Title) != (album.Artist, album.Title))
            inserted = inserted with { DiscId = discs.Add(inserted.Contents, album, NamedBy.Catalogue).Id };
        else
            discs.Rename(inserted.DiscId, album, NamedBy.Catalogue);
        if (entry.Cover is { } cover && PictureSize.MimeTypeOf(cover) is not null)
            discs.SetPicture(inserted.DiscId, PictureKind.Front, cover);
        else
            discs.RemovePicture(inserted.DiscId, PictureKind.Front);
        Replace(inserted);
        renames.Follow(inserted.DiscId);
        signals.Send(new Signal(Signal.Disc));
        return inserted;
    }
}
