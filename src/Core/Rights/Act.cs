namespace DapperLantern.Core.Rights;

/// <summary>What a signed-in person may see or do. Every endpoint names one; <see cref="ActTable"/> has their words.</summary>
public enum Act
{
    SeeDesk,
    SeeLeads,
    WorkLeads,
    GiveLeads,

    /// <summary>Take a lead that nobody owns.</summary>
    TakeLeads,
    SeeIntake,
    RunIntake,
    SeeScoring,
    SeeRouting,
    HandOver,
    SeeDeals,
    WorkDeals,
    SeeReports,
    SetUp,
    CoinTags,

    /// <summary>Give people what we have about them, and erase it.</summary>
    AnswerPersons,
    ExportLeads,
    SettleDuplicates,
    KeepLists,
    ExceptQualifying,
    SeeLog,

    /// <summary>Keep one's own codes and passkeys. All else waits for the second step that a role asks for.</summary>
    KeepOwnSignIn,

    /// <summary>Invite people, change what they may, let them go; say what each role may, and how people sign in.</summary>
    ManagePeople,

    /// <summary>Let other systems in, and end their access.</summary>
    KeepTokens,
}
