namespace Wergamon.Devices.Catalogue;

/// <summary>The catalogue gave no usable answer. The message says why, for a person.</summary>
public sealed class CatalogueException : Exception
{
    public CatalogueException(string message) : base(message) { }

    public CatalogueException(string message, Exception inner) : base(message, inner) { }

    public CatalogueException() { }
}
