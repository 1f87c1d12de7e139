using System.Text;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Wergamon.App.Copies;
using Wergamon.Core.Naming;
using Wergamon.Core.Planning;
using Wergamon.Web.Pages.Shared;

namespace Wergamon.Web.Pages.Convert;

/// <summary>The targets: what copies are made for, built-in and custom ones.</summary>
public sealed class TargetsModel(TargetChoices targets) : PageModel
{
    private const int MaxImportBytes = 64 * 1024;

    public IReadOnlyList<Target> Targets { get; private set; } = [];

    public Target Target { get; private set; } = null!;

    /// <summary>True for one that the person has made.</summary>
    public bool IsOwn => !targets.IsBuiltIn(Target.Key);

    /// <summary>True for a built-in one that the person has changed.</summary>
    public bool IsChanged => targets.IsChanged(Target);

    /// <summary>Why the last step was refused.</summary>
    [TempData]
    public string? Refusal { get; set; }

    [TempData]
    public string? TypedNames { get; set; }

    public IActionResult OnGet(string? key)
    {
        Targets = targets.All();
        if (key is null)
            return Redirect($"/convert/targets/{Targets[0].Key}");
        if (Targets.FirstOrDefault(target => target.Key == key) is not { } found)
            return NotFound();
        Target = found;
        return Page();
    }

    public IActionResult OnPostSettings(string key, TargetForm form) => Change(key, target => (form.ApplyTo(target), null));

    public IActionResult OnPostNames(string key, string? names)
    {
        var (text, problem) = TrackPath.ReadTyped(names);
        TypedNames = problem is null ? null : names;
        return Change(key, target => (target with { Names = text }, problem));
    }

    public IActionResult OnPostRename(string key, string? name) =>
        Change(key, target => (target with { Name = (name ?? "").Trim() }, null));

    /// <summary>Makes another target out of this one.</summary>
    public IActionResult OnPostCopy(string key, string? name)
    {
        if (Find(key) is not { } target)
            return NotFound();
        target = target with { Name = string.IsNullOrWhiteSpace(name) ? target.Name + ", copy" : name.Trim() };
        if (target.Problem is not { } problem)
            return Redirect($"/convert/targets/{targets.Add(target)}");
        Refusal = problem;
        return Back(key);
    }

    /// <summary>Removes a custom target; a built-in one is reset.</summary>
    public IActionResult OnPostRemove(string key)
    {
        targets.Remove(key);
        return Redirect(targets.IsBuiltIn(key) ? $"/convert/targets/{key}" : "/convert/targets");
    }

    public IActionResult OnGetExport(string key) =>
        Find(key) is { } target
            ? File(Encoding.UTF8.GetBytes(TargetFile.Write(target)), "application/json", $"{SafeFileName.From(target.Name)}.json")
            : NotFound();

    public IActionResult OnGetSchema() => Content(TargetFile.Schema, "application/schema+json");

    public async Task<IActionResult> OnPostImport(IFormFile? file)
    {
        if (file is not { Length: > 0 and <= MaxImportBytes })
            return Refuse("Choose a file that was exported from here.");
        using var reader = new StreamReader(file.OpenReadStream());
        var (target, problem) = TargetFile.Read(await reader.ReadToEndAsync());
        return target is null ? Refuse(problem!) : Redirect($"/convert/targets/{targets.Add(target)}");

        RedirectResult Refuse(string reason)
        {
            Refusal = reason;
            return Redirect("/convert/targets");
        }
    }

    private Target? Find(string key) => targets.All().FirstOrDefault(target => target.Key == key);

    private IActionResult Change(string key, Func<Target, (Target Changed, string? Problem)> change)
    {
        if (Find(key) is not { } target)
            return NotFound();
        var (changed, problem) = change(target);
        Refusal = problem ?? changed.Problem;
        if (Refusal is null)
            targets.Save(changed);
        return Back(key);
    }

    private RedirectResult Back(string key) => Redirect($"/convert/targets/{key}");
}
