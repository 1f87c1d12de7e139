using System.Text.Json;
using System.Text.Json.Serialization.Metadata;

namespace Wergamon.App.Runs;

/// <summary>
/// A kind of item: its name in the database and the document that says what is to be done. The form of the document is asked for when one
/// is read or written: making the forms of all kinds would take a third of the server's start.
/// </summary>
public class ItemKind<TSpec>(string name, Func<JsonTypeInfo<TSpec>> specForm) where TSpec : class
{
    public string Name { get; } = name;

    public bool Is(RunItemRow item) => item.Kind == Name;

    /// <param name="weight">Its share of the run's work, in milliseconds of playing time.</param>
    public NewItem New(string lane, string title, long weight, TSpec spec) =>
        new(Name, lane, title, weight, JsonSerializer.Serialize(spec, specForm()));

    /// <exception cref="InvalidDataException">There is nothing in it.</exception>
    public TSpec SpecOf(RunItemRow item) =>
        JsonSerializer.Deserialize(item.Spec, specForm())
            ?? throw new InvalidDataException($"Run item {item.Id} of kind {item.Kind} has no spec.");
}

/// <summary>A kind of item with a second document: its result.</summary>
public sealed class ItemKind<TSpec, TResult>(string name, Func<JsonTypeInfo<TSpec>> specForm, Func<JsonTypeInfo<TResult>> resultForm)
    : ItemKind<TSpec>(name, specForm)
    where TSpec : class where TResult : class
{
    /// <summary>Null for an item that is not done.</summary>
    public TResult? ResultOf(RunItemRow item) =>
        item is { State: ItemState.Done, Result: { } result } ? JsonSerializer.Deserialize(result, resultForm()) : null;

    public ItemOutcome Done(TResult result) => ItemOutcome.Done(ToJson(result));

    public string ToJson(TResult result) => JsonSerializer.Serialize(result, resultForm());
}

/// <summary>For items that need no document.</summary>
public sealed record NoSpec;
