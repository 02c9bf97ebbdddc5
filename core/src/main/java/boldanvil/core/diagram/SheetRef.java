package boldanvil.core.diagram;

/** Names a sheet: the part and the sheet within it. */
public record SheetRef(String part, String sheet) {}
