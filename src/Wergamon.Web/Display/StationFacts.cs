using Wergamon.App.Bench;
using Wergamon.App.Convert;
using Wergamon.App.Deliver;
using Wergamon.App.Intake;
using Wergamon.App.Library.Scan;
using Wergamon.App.Sets;
using Wergamon.App.Tags;
using Wergamon.App.Tracks;
using Wergamon.Core.Audio;
using Wergamon.Core.Naming;

namespace Wergamon.Web.Display;

/// <summary>A station with its live line of fact.</summary>
/// <param name="Key">The letter behind g that leads there.</param>
public sealed record StationLink(string Name, string Address, char Key, string Fact);

/// <summary>The seven stations in working order.</summary>
public sealed class StationFacts(
    LibraryQueries library, UntidyFiles tidying, MusicFolders folders, Plans plans, SetStore sets, DeliveryStore store, NullTestStore tests,
    DriveBay bay)
{
    public IReadOnlyList<StationLink> All()
    {
        int untidy = tidying.Count();
        int open = plans.CountOpen();
        var deliveries = store.List().ToLookup(row => row.Kind == DeliveryKind.Stick);
        int discs = bay.Trays.Count(tray => tray.Disc is not null);
        return
        [
            new(
                "Intake", "/intake", 'i',
                folders.IsScanning
                    ? "scanning"
                    : discs > 0
                    ? $"{Plural.Count(discs, "disc")} in"
                    : Plural.Count(folders.Count(), "folder")),
            new("Library", "/library", 'l', Plural.Count(library.CountTracks(), "track")),
            new("Tags", "/tags", 't', untidy == 0 ? "" : $"{untidy:N0} untidy"),
            new("Convert", "/convert", 'c', open == 0 ? "" : Plural.Count(open, "plan")),
            new("Bench", "/bench", 'b', tests.Count() is > 0 and var compared ? $"{compared:N0} compared" : ""),
            new("Sets", "/sets", 's', sets.Count() is > 0 and var count ? Plural.Count(count, "set") : ""),
            new(
                "Deliver", "/deliver", 'd',
                deliveries[false].Any()
                    ? $"{deliveries[false].Count():N0} planned"
                    : deliveries[true].Any()
                    ? Plural.Count(deliveries[true].Count(), "stick")
                    : ""),
        ];
    }
}
