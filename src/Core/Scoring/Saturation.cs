namespace DapperLantern.Core.Scoring;

/// <summary>
/// How a sum of points becomes an engagement of 0 to 100. Up to the knee k it is the sum itself; above, k + (100 - k) (1 - e^(-(x - k) / (100 - k))): the curve goes
/// on with the same slope and nears 100 without reaching it, so that the tenth download in a day says less than the first. Strictly rising, hence any question about
/// the score is one about the sum.
/// </summary>
public static class Saturation
{
    /// <param name="sum">Any number; below 0 it is taken as 0.</param>
    /// <param name="knee">0 to 100.</param>
    public static double Of(double sum, double knee)
    {
        if (sum <= 0)
            return 0;
        if (sum <= knee)
            return sum;
        var room = 100 - knee;
        return room <= 0 ? 100 : knee + room * (1 - Math.Exp(-(sum - knee) / room));
    }

    /// <summary>The least sum that gives an engagement: the inverse of <see cref="Of"/>. Positive infinity for what no sum reaches, 0 for 0 and below.</summary>
    public static double Inverse(double engagement, double knee)
    {
        if (engagement <= 0)
            return 0;
        if (engagement <= knee)
            return engagement;
        var room = 100 - knee;
        var left = 1 - (engagement - knee) / room;
        return room <= 0 || left <= 0 ? double.PositiveInfinity : knee - room * Math.Log(left);
    }

    /// <summary>The whole number people see: halves go up.</summary>
    public static int Whole(double engagement) => (int)Math.Floor(engagement + 0.5);
}
