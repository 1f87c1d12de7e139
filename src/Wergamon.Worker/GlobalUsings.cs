global using Wergamon.FileSystem;
