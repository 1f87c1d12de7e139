using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.AspNetCore.WebUtilities;
using Wergamon.App.Sets;
using Wergamon.App.Storage;
using Wergamon.App.Tracks;
using Wergamon.Web.Display;

namespace Wergamon.Web.Pages.Library;

/// <summary>All tracks, or those that the address selects, as one long list; the browser holds a few pages of it.</summary>
public sealed class TracksModel(TrackList list, Settings settings, MusicSets sets, TimeProvider time) : PageModel
{
    /// <summary>Rows that come with one request.</summary>
    public const int PageSize = 100;

    private const int MaxIds = 1_000_000;
    private const string ColumnsSetting = "track-columns";

    public TrackView View { get; private set; } = TrackAddress.Read(QueryCollection.Empty);

    /// <summary>What a plan made here is called at first.</summary>
    public string PlanTitle =>
        View.Words.Length > 0
            ? "Found: " + View.Words
            : View.Folder is { } folder
            ? Path.GetFileName(folder.TrimEnd('/'))
            : "Picked tracks";

    public TrackCounts Counts { get; private set; } = new(0, 0, 0, new Dictionary<TrackFilter, int>(), []);

    public IReadOnlyList<TrackColumn> Columns { get; private set; } = [];

    public IReadOnlyList<TrackLine> Lines { get; private set; } = [];

    /// <summary>Offset of the rows in the list.</summary>
    public int Offset { get; private set; }

    public IReadOnlyList<(string Path, int Tracks)> Folders { get; private set; } = [];

    public bool IsByFolder => RouteData.Values["by"] is "folders";

    public ListMoment Moment => _moment ??= new ListMoment(time.GetUtcNow(), sets.Notation);

    private ListMoment? _moment;

    /// <summary>The page itself, without what the list shows.</summary>
    public string Here => IsByFolder ? "/library/tracks/folders" : "/library/tracks";

    /// <summary>"32 tracks", or what of them is shown.</summary>
    public string Summary
    {
        get
        {
            var found = View.Words.Length > 0 ? $" with “{View.Words}” in tags or path" : "";
            return Counts.Tracks == 0
                ? $"Nothing{found}."
                : $"{Labels.Time(TimeSpan.FromMilliseconds(Counts.LengthMs))} of music, {Labels.Size(Counts.Bytes)} in all copies{found}.";
        }
    }

    public string AddressOf(TrackView view) => Here + TrackAddress.Write(view);

    /// <summary>The parent folder, if it is a music folder or inside one.</summary>
    public string? FolderAbove
    {
        get
        {
            var above = View.Folder is { } folder ? Path.GetDirectoryName(folder.TrimEnd('/')) : null;
            return above is not null
                    && list.FoldersBelow(null)
                        .Any(root => above == root.Path || above.StartsWith(root.Path + "/", StringComparison.Ordinal))
                ? above
                : null;
        }
    }

    public void OnGet()
    {
        Load(0);
        Counts = list.Count(View);
        if (IsByFolder)
            Folders = list.FoldersBelow(View.Folder);
    }

    /// <summary>Rows from one place of the list on.</summary>
    public PartialViewResult OnGetRows(int offset)
    {
        Load(Math.Max(0, offset));
        return Partial("_TrackLines", this);
    }

    /// <summary>Track IDs, for picking more rows than the browser holds.</summary>
    public JsonResult OnGetIds(int offset, int count)
    {
        View = TrackAddress.Read(Request.Query);
        return new JsonResult(list.Ids(View, Math.Max(0, offset), Math.Clamp(count, 0, MaxIds)));
    }

    /// <summary>How many tracks the list has now.</summary>
    public JsonResult OnGetTotal() => new(list.Count(TrackAddress.Read(Request.Query)).Tracks);

    public IActionResult OnPostColumns(string[] column)
    {
        settings.Write(ColumnsSetting, [.. TrackColumn.Choose(column).Select(chosen => chosen.Name)], ListJson.Default.StringArray);
        // Only the list's own address; no line breaks, no other hosts.
        return Redirect(
            Here + TrackAddress.Write(TrackAddress.Read(new QueryCollection(QueryHelpers.ParseQuery(Request.Query["back"].ToString())))));
    }

    private void Load(int offset)
    {
        View = TrackAddress.Read(Request.Query);
        Offset = offset;
        Columns = TrackColumn.Choose(settings.Read(ColumnsSetting, ListJson.Default.StringArray) ?? TrackColumn.Usual);
        Lines = list.Page(View, offset, PageSize);
    }
}
