using System.Text;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Wergamon.App.Deliver.Sticks;
using Wergamon.Core.Naming;
using Wergamon.Core.Sticks;
using Wergamon.Web.Pages.Shared;

namespace Wergamon.Web.Pages.Deliver.Sticks;

/// <summary>The devices that sticks are made for: built-in and custom ones.</summary>
public sealed class DevicesModel(DeviceChoices devices) : PageModel
{
    private const int MaxImportBytes = 64 * 1024;

    public static IReadOnlyList<int> RateChoices { get; } = [44_100, 48_000, 96_000, 192_000];

    public IReadOnlyList<DeviceDescription> Devices { get; private set; } = [];

    public DeviceDescription Device { get; private set; } = null!;

    /// <summary>True for one that the person has made.</summary>
    public bool IsOwn => !devices.IsBuiltIn(Device.Key);

    /// <summary>True for a built-in one that the person has changed.</summary>
    public bool IsChanged => devices.IsChanged(Device);

    /// <summary>Why the last step was refused.</summary>
    [TempData]
    public string? Refusal { get; set; }

    public IActionResult OnGet(string? key)
    {
        Devices = devices.All();
        if (key is null)
            return Redirect($"/deliver/devices/{Devices[0].Key}");
        if (Devices.FirstOrDefault(device => device.Key == key) is not { } found)
            return NotFound();
        Device = found;
        return Page();
    }

    public IActionResult OnPostSettings(string key, TypedDevice typed, TargetForm quality)
    {
        if (Find(key) is not { } device)
            return NotFound();
        var changed = typed.Over(device, quality);
        Refusal = !ModelState.IsValid ? "What is no number was left as it was." : changed.Problem;
        if (Refusal is null)
            devices.Save(changed);
        return Back(key);
    }

    /// <summary>Makes another device out of this one.</summary>
    public IActionResult OnPostCopy(string key, string? copyName)
    {
        if (Find(key) is not { } device)
            return NotFound();
        device = device with { Name = string.IsNullOrWhiteSpace(copyName) ? device.Name + ", copy" : copyName.Trim() };
        if (device.Problem is not { } problem)
            return Redirect($"/deliver/devices/{devices.Add(device)}");
        Refusal = problem;
        return Back(key);
    }

    /// <summary>Removes a custom device; a built-in one is reset.</summary>
    public IActionResult OnPostRemove(string key)
    {
        devices.Remove(key);
        return Redirect(devices.IsBuiltIn(key) ? $"/deliver/devices/{key}" : "/deliver/devices");
    }

    public IActionResult OnGetExport(string key) =>
        Find(key) is { } device
            ? File(Encoding.UTF8.GetBytes(DeviceFile.Write(device)), "application/json", $"{SafeFileName.From(device.Name)}.json")
            : NotFound();

    public IActionResult OnGetSchema() => Content(DeviceFile.Schema, "application/schema+json");

    public async Task<IActionResult> OnPostImport(IFormFile? file)
    {
        if (file is not { Length: > 0 and <= MaxImportBytes })
            return Refuse("Choose a file that was exported from here.");
        using var reader = new StreamReader(file.OpenReadStream());
        var (device, problem) = DeviceFile.Read(await reader.ReadToEndAsync());
        return device is null ? Refuse(problem!) : Redirect($"/deliver/devices/{devices.Add(device)}");

        RedirectResult Refuse(string reason)
        {
            Refusal = reason;
            return Redirect("/deliver/devices");
        }
    }

    private DeviceDescription? Find(string key) => devices.All().FirstOrDefault(device => device.Key == key);

    private RedirectResult Back(string key) => Redirect($"/deliver/devices/{key}");
}
