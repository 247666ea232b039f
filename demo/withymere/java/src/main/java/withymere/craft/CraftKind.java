package withymere.craft;

public enum CraftKind {
    NARROWBOAT, WIDE_BARGE, WORK_FLAT, HIRE_BOAT, TUG
}
