namespace Kivren.Core.Numbering;

/// <summary>How far each kind has been counted, where numbers run through several divisions.</summary>
public readonly record struct Counts(int Figures, int Tables, int Listings, int Equations, int Examples, int Notes);
