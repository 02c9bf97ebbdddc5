/**
 * Drawings that follow signals. {@link boldanvil.core.drawing.LiveDrawing} reads an SVG of the user's, keeps it free of anything that
 * reaches outside the file, and gives back the SVG as it is at given values. What paints it is not known here.
 */
package boldanvil.core.drawing;
