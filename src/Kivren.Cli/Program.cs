using Kivren.Cli;

return CommandLine.Run(args, Console.Out, Console.Error);
