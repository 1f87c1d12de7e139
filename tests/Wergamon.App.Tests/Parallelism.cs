// Many tests wait for workers, drives and files to rest; more of them than there are cores keep the cores busy.
[assembly: CollectionBehavior(MaxParallelThreads = 4)]
