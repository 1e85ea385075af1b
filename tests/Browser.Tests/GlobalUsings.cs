global using DapperLantern.Tests.Shared;
