using Wergamon.Core.Naming;
using Wergamon.Core.Tags;

namespace Wergamon.Core.Planning;

/// <summary>The path of a copy below the folder that it goes to.</summary>
internal static class PlannedPath
{
    public static string For(PlanSource source, Target target, NamePattern names)
    {
        var path = target.Place switch
        {
            OutputLocation.BesideSource => WithExtension(NamedFor(source, Path.GetFileName(source.Path)), target),
            OutputLocation.SourceTree =>
                WithExtension(
                    NamedFor(source, source.Root is { } root ? Path.GetRelativePath(root, source.Path) : Path.GetFileName(source.Path)),
                    target),
            _ => TrackPath.For(source.Tags, target.Format.Extension, names),
        };
        if (source.Exception?.Name is not { } name)
            return path;
        var folder = Path.GetDirectoryName(path);
        var file = SafeFileName.From(name, target.Format.Extension);
        return string.IsNullOrEmpty(folder) ? file : folder + "/" + file;
    }

    /// <summary>A part, or what was joined, is called by its own title in the place of its file.</summary>
    private static string NamedFor(PlanSource source, string path)
    {
        if (source.Span is not { } span)
            return path;
        var title = source.Tags.First(FieldNames.Title) ?? Path.GetFileNameWithoutExtension(path);
        var number = span.Part is not null && source.Tags.First(FieldNames.Track) is { } track ? track.PadLeft(2, '0') + " " : "";
        return Path.Combine(Path.GetDirectoryName(path) ?? "", SafeFileName.From(number + title, Path.GetExtension(path)));
    }

    private static string WithExtension(string path, Target target) => path[..^Path.GetExtension(path).Length] + target.Format.Extension;
}
