using Wergamon.Core.Naming;

namespace Wergamon.Core.Planning;

/// <summary>The path of a copy below the folder that it goes to.</summary>
internal static class PlannedPath
{
    public static string For(PlanSource source, Target target, NamePattern names)
    {
        var path = target.Place switch
        {
            OutputPlace.BesideSource => WithExtension(Path.GetFileName(source.Path), target),
            OutputPlace.SourceTree => WithExtension(source.Root is { } root ? Path.GetRelativePath(root, source.Path) : Path.GetFileName(source.Path), target),
            _ => TrackPath.For(source.Tags, target.Format.Extension, names),
        };
        if (source.Exception?.Name is not { } name)
            return path;
        var folder = Path.GetDirectoryName(path);
        var file = SafeFileName.From(name, target.Format.Extension);
        return string.IsNullOrEmpty(folder) ? file : folder + "/" + file;
    }

    private static string WithExtension(string path, Target target) => path[..^Path.GetExtension(path).Length] + target.Format.Extension;
}
