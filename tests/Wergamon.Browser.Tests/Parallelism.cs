// Each class has a server, workers and a browser of its own; in parallel they would only wait for each other.
[assembly: CollectionBehavior(DisableTestParallelization = true)]
