using Wergamon.App.Tracks;

namespace Wergamon.Web.Display;

/// <summary>Pictures of files in words.</summary>
public static class PictureFacts
{
    /// <summary>"Front, 600 x 600, 84 KB".</summary>
    public static string Describe(CopyPicture picture)
    {
        var kind = string.Concat(
            picture.Kind.ToString().Select((c, at) => at > 0 && char.IsUpper(c) ? " " + char.ToLowerInvariant(c) : c.ToString()));
        var size = picture is { Width: { } width, Height: { } height } ? $", {width} x {height}" : "";
        return $"{kind}{size}, {Math.Max(1, picture.Bytes / 1000):N0} "
            + $"KB{(picture.Description.Length > 0 ? ": " + picture.Description : "")}";
    }
}
