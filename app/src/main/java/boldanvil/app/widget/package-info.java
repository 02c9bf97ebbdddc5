/** Small pieces of interface that know nothing of projects: colours and fonts, popups, choosers, columns of tables. */
package boldanvil.app.widget;
