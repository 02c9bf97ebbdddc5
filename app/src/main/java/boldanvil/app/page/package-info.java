/**
 * What the window and its pages know of each other: a {@link boldanvil.app.page.Page} states its name, icon, commands and the places it
 * shows; its {@link boldanvil.app.page.PageHost} gives it the view-models. No page enters here.
 */
package boldanvil.app.page;
