using Microsoft.AspNetCore.Mvc.ModelBinding.Metadata;

namespace Wergamon.Web.Auth;

/// <summary>An empty text in a list of a form is an empty text: pages never get null among texts.</summary>
internal sealed class EmptyElements : IDisplayMetadataProvider
{
    public void CreateDisplayMetadata(DisplayMetadataProviderContext context)
    {
        if (context.Key.MetadataKind == ModelMetadataKind.Type && context.Key.ModelType == typeof(string))
            context.DisplayMetadata.ConvertEmptyStringToNull = false;
    }
}
