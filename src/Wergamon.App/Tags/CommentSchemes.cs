using Wergamon.App.Storage;
using Wergamon.Core.Tags;

namespace Wergamon.App.Tags;

/// <summary>The person's own scheme for comments, as chosen on the comment page.</summary>
public sealed class CommentSchemes(Settings settings)
{
    private const string SchemeKey = "comment-scheme";

    public CommentScheme Current
    {
        get => settings.Read(SchemeKey, CommentSchemeJson.Default.CommentScheme) ?? new CommentScheme();
        set => settings.Write(SchemeKey, value, CommentSchemeJson.Default.CommentScheme);
    }
}
