using Microsoft.AspNetCore.Mvc;
using Wergamon.App.Intake;
using Wergamon.Core.Audio;

namespace Wergamon.Web.Pages.Intake;

/// <summary>How the channels of a surround disc are used.</summary>
public sealed class SurroundModel(DiscViews views, DiscRips rips) : DiscPageModel(views)
{
    public IActionResult OnGet(string? drive) => RedirectToPage("/Intake/Discs", new { drive });

    /// <summary>Stores the roles of the channels of one title, in the order of the channels.</summary>
    public IActionResult OnPostRoles(string? drive, int title, ChannelRoles[] role)
    {
        if (!Load(drive, false) || View.Surround is null)
            return NotFound();
        var roles = View.Surround.Roles.Where(pair => pair.Key != title).ToDictionary(pair => pair.Key, pair => pair.Value);
        roles[title] = role;
        FolderRefusal = rips.ChooseSurround(View.Tray.Letter, View.Surround with { Roles = roles }, View.Surround.OutputFolder);
        return Back(drive);
    }

    public IActionResult OnPostDownmix(string? drive, double centre, double sides, double? low, bool stereo, bool all, string? folder)
    {
        if (!Load(drive, false) || View.Surround is null)
            return NotFound();
        double Bounded(double down) => Math.Clamp(double.IsFinite(down) ? down : SurroundChoice.StandardDown, 0, 60);
        var choice = View.Surround with
        {
            CentreDown = Bounded(centre),
            SurroundDown = Bounded(sides),
            LowFrequencyDown = low is { } down ? Bounded(down) : null,
            MakesStereo = stereo,
            MakesAllChannels = all
        };
        FolderRefusal = rips.ChooseSurround(View.Tray.Letter, choice, folder);
        return Back(drive);
    }
}
