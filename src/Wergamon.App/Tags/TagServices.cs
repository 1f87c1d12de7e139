using Microsoft.Extensions.DependencyInjection;
using Wergamon.App.Runs;

namespace Wergamon.App.Tags;

/// <summary>What Tags is made of.</summary>
internal static class TagServices
{
    public static IServiceCollection AddTags(this IServiceCollection services) => services
        .AddSingleton<TagUndo>()
        .AddSingleton<TagFile>()
        .AddSingleton<TagRecord>()
        .AddSingleton<TagSheets>()
        .AddSingleton<CommentSchemes>()
        .AddSingleton<TagRuns>()
        .AddSingleton<UntidyFiles>()
        .AddSingleton<TagPictures>()
        .AddSingleton(TagRuns.RunKind)
        .AddSingleton(TagRuns.UndoKind)
        .AddSingleton<IItemHandler, TagWriteHandler>()
        .AddSingleton<IItemHandler, TagUndoHandler>();
}
