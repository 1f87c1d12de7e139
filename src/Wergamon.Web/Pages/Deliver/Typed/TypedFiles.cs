using Wergamon.App.Deliver;
using Wergamon.App.Deliver.Discs;
using Wergamon.App.Deliver.Files;
using Wergamon.Core.Naming;

namespace Wergamon.Web.Pages.Deliver.Typed;

/// <summary>How the files of a data disc or a zip are made, as the form sends it.</summary>
public sealed record TypedFiles
{
    public string? Title { get; init; }

    public string? Target { get; init; }

    public string? Names { get; init; }

    public bool IsNumbered { get; init; }

    public bool HasPlaylist { get; init; }

    public string? Burner { get; init; }

    public int? Speed { get; init; }

    public string? BlankKey { get; init; }

    /// <summary>What is wrong, for the person; null when nothing is.</summary>
    public string? Problem => string.IsNullOrWhiteSpace(Names) ? null : NamePattern.Parse(Names.Trim()).Problem;

    /// <param name="known">What was there.</param>
    public ZipSettings Over(ZipSettings known) => Files(known);

    /// <param name="known">What was there.</param>
    public DataDiscSettings Over(DataDiscSettings known) => Files(known) with
    {
        Burner = Burner ?? known.Burner,
        // Another burner has other speeds.
        Speed = Burner is not null && Burner != known.Burner ? 0 : Speed ?? known.Speed,
        BlankKey = BlankKey ?? known.BlankKey,
    };

    private T Files<T>(T known) where T : FileSettings => (T)((FileSettings)known with
    {
        TargetKey = Target ?? known.TargetKey,
        Names = Problem is not null ? known.Names : string.IsNullOrWhiteSpace(Names) ? DeliveredFiles.NumberedNames : Names.Trim(),
        IsNumbered = IsNumbered,
        HasPlaylist = HasPlaylist,
    });
}
