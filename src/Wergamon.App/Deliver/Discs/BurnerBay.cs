using Microsoft.Extensions.Logging;
using Wergamon.App.Storage;
using Wergamon.Core.Discs.Burning;
using Wergamon.Devices.Burners;
using Wergamon.Devices.Drives;

namespace Wergamon.App.Deliver.Discs;

/// <summary>What is in a burner, as it is kept across a restart.</summary>
/// <param name="BlankKey">The kind of blank that it was.</param>
/// <param name="WrittenKey">The disc that it became, or will be once it is finished; null for a blank.</param>
internal sealed record TrayContents(string BlankKey, string? WrittenKey)
{
    /// <summary>True while it is written: a server that ends then leaves a spoiled disc, unless it was just finished.</summary>
    public bool IsBeingWritten { get; init; }
}

/// <summary>A disc that can be put into a burner.</summary>
/// <param name="Label">What is written on it or on its box.</param>
public sealed record ShelfDisc(string Key, string Label, BlankDisc Blank)
{
    /// <summary>True for a rewritable disc with something on it, which is erased when it is burned.</summary>
    public bool IsWritten { get; init; }
}

/// <summary>
/// The burners of this machine, and the shelf with discs for them. A disc stays in its burner across a restart.
/// </summary>
public sealed class BurnerBay : IDisposable
{
    private readonly string _shelf;
    private readonly Settings _settings;
    private readonly ILogger<BurnerBay> _logger;
    private readonly List<SimulatedBurner> _burners;

    public BurnerBay(AppOptions options, Settings settings, TimeProvider time, ILogger<BurnerBay> logger)
    {
        (_shelf, _settings, _logger) = (options.Folders.Burned, settings, logger);
        WrittenDiscs.RemoveUnfinished(_shelf);
        _burners = [
            .. SimulatedBurner.Usual.Select(
                traits => new SimulatedBurner(traits.Name[^1..], traits, _shelf, new PacedTime(time, options.DriveSpeedup), time))
        ];
        foreach (var burner in _burners)
            PutBack(burner);
    }

    public IReadOnlyList<IDiscBurner> Burners => _burners;

    public IDiscBurner? Burner(string? letter) => Find(letter);

    /// <summary>An existing burner and one of its speeds: the given ones, or else the first and its highest.</summary>
    internal (string Letter, int Speed) Usable(string letter, int speed)
    {
        var burner = Find(letter) ?? _burners[0];
        return (burner.Letter, burner.Traits.Speeds.Contains(speed) ? speed : 0);
    }

    /// <summary>Why a burner cannot write now, for the person; null when it can.</summary>
    internal static string? ProblemOf(IDiscBurner burner) => burner.Disc switch
    {
        null => $"Put a blank disc into {burner.Traits.Name} first.",
        { CanBeWritten: true } => null,
        { Spoiled: null } => $"The disc in {burner.Traits.Name} is written already. Put a blank one in.",
        _ => $"The disc in {burner.Traits.Name} is spoiled. Put a blank one in.",
    };

    /// <summary>The capacity of the disc in a burner, or of the planned kind while there is no writable disc.</summary>
    internal static DiscBlank BlankFor(IDiscBurner burner, string plannedKey) =>
        burner.Disc is { CanBeWritten: true } inside ? inside.Blank : BlankOf(plannedKey)?.Blank ?? DiscBlank.Minutes80;

    /// <summary>Blank discs, and rewritable ones with something on them.</summary>
    public IReadOnlyList<ShelfDisc> Shelf() =>
    [
        .. BlankDisc.Shelf.Select(blank => new ShelfDisc(blank.Key, blank.Label, blank)),
        .. new DiscRack(_shelf).List().Where(disc => !_burners.Exists(burner => burner.Disc?.WrittenKey == disc.Key))
            .Select(disc => (disc, Blank: BlankOf(disc.BlankKey))).Where(each => each.Blank is { IsRewritable: true })
            .Select(each => new ShelfDisc(each.disc.Key, each.disc.Label, each.Blank!) { IsWritten = true }),
    ];

    /// <summary>All discs that were burned here.</summary>
    public IReadOnlyList<RackDisc> Written() => new DiscRack(_shelf).List();

    /// <summary>Inserts a disc of the shelf into a burner; returns the reason, for the person, when that is not possible.</summary>
    public string? Insert(string letter, string key)
    {
        if (Find(letter) is not { } burner)
            return "There is no such burner.";
        if (Shelf().FirstOrDefault(disc => disc.Key == key) is not { } disc)
            return "That disc is no longer on the shelf.";
        burner.Insert(disc.Blank, disc.IsWritten ? disc.Key : null);
        Keep(burner);
        _logger.LogInformation("Burner {Letter}: {Disc} went in", letter, key);
        return null;
    }

    /// <summary>Ejects the disc; one that is being written is spoiled.</summary>
    public void Eject(string letter)
    {
        if (Find(letter) is not { Disc: not null } burner)
            return;
        burner.Eject();
        Keep(burner);
        _logger.LogInformation("Burner {Letter}: ejected", letter);
    }

    /// <summary>Closes the disc in a burner that was left open.</summary>
    public void Close(string letter) => Find(letter)?.Close();

    /// <summary>Throws a burned disc away. One that is in a burner stays.</summary>
    public void ThrowAway(string key)
    {
        if (Written().Any(disc => disc.Key == key) && !_burners.Exists(burner => burner.Disc?.WrittenKey == key))
            WrittenDiscs.Remove(_shelf, key);
    }

    /// <summary>Writes a disc.</summary>
    /// <param name="write">Receives the session and writes everything to it.</param>
    /// <returns>How often the burner had to wait.</returns>
    /// <exception cref="BurnFailedException">There is no disc that takes it, or it could not be written to its end.</exception>
    internal int Write(IDiscBurner burner, BurnOrder order, Action<IBurnSession> write)
    {
        using var session = burner.Begin(order);
        try
        {
            if (!order.IsTrial && Contents(burner) is { } contents)
                Save(burner, contents with { WrittenKey = session.Key, IsBeingWritten = true });
            write(session);
            return session.Finish();
        }
        finally
        {
            session.Dispose();
            Keep(burner);
        }
    }

    public void Dispose()
    {
        foreach (var burner in _burners)
            burner.Dispose();
    }

    private static BlankDisc? BlankOf(string? key) => BlankDisc.Shelf.FirstOrDefault(blank => blank.Key == key);

    private static string SettingOf(IDiscBurner burner) => $"burner {burner.Letter}";

    private SimulatedBurner? Find(string? letter) => _burners.FirstOrDefault(burner => burner.Letter == letter);

    private TrayContents? Contents(IDiscBurner burner) =>
        Find(burner.Letter) is { BlankKey: { } key, Disc: { } disc } ? new TrayContents(key, disc.WrittenKey) : null;

    /// <summary>A spoiled disc is not kept across a restart: it is of no use.</summary>
    private void Keep(IDiscBurner burner)
    {
        if (Contents(burner) is { } contents && burner.Disc!.Spoiled is null)
            Save(burner, contents);
        else
            _settings.Remove(SettingOf(burner));
    }

    private void Save(IDiscBurner burner, TrayContents contents) =>
        _settings.Write(SettingOf(burner), contents, DiscRunsJson.Default.TrayContents);

    private void PutBack(SimulatedBurner burner)
    {
        if (_settings.Read(SettingOf(burner), DiscRunsJson.Default.TrayContents) is not { } kept || BlankOf(kept.BlankKey) is not { } blank)
            return;
        bool isFinished = Written().Any(disc => disc.Key == kept.WrittenKey);
        if (kept.IsBeingWritten && !isFinished && !blank.IsRewritable)
            _logger.LogWarning("Burner {Letter}: the disc that was being written when the server ended is spoiled", burner.Letter);
        else
            burner.Insert(blank, isFinished ? kept.WrittenKey : null);
    }
}
