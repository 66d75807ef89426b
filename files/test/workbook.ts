import { strToU8, zipSync } from 'fflate';

/* Spreadsheets for tests, made of the parts that one cannot do without. */

const REL = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships';
const MAIN = 'http://schemas.openxmlformats.org/spreadsheetml/2006/main';

/** A number shown as a date: days since the end of 1899. */
export const day = (serial: number) => ({ serial });
export type Cell = string | number | boolean | { serial: number };

function cellXml(cell: Cell, column: number, row: number): string {
  const at = `${String.fromCharCode(65 + column)}${row + 1}`;
  if (typeof cell === 'object') return `<c r="${at}" s="1"><v>${cell.serial}</v></c>`;
  if (typeof cell === 'boolean') return `<c r="${at}" t="b"><v>${cell ? 1 : 0}</v></c>`;
  if (typeof cell === 'number') return `<c r="${at}"><v>${cell}</v></c>`;
  return `<c r="${at}" t="inlineStr"><is><t>${cell}</t></is></c>`;
}

/** A workbook as programs write it, with the parts that it cannot do without. @param others  parts in their place */
export function workbook(sheets: Record<string, Cell[][]>, others: Record<string, string> = {}): Uint8Array {
  const names = Object.keys(sheets);
  const parts: Record<string, string> = {
    '[Content_Types].xml': `<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="xml" ContentType="application/xml"/></Types>`,
    '_rels/.rels': `<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Id="r1" Type="${REL}/officeDocument" Target="xl/workbook.xml"/></Relationships>`,
    'xl/workbook.xml': `<workbook xmlns="${MAIN}" xmlns:r="${REL}"><sheets>${names.map((name, at) => `<sheet name="${name}" sheetId="${at + 1}" r:id="s${at + 1}"/>`).join('')}</sheets></workbook>`,
    'xl/_rels/workbook.xml.rels': `<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships">${names.map((_, at) => `<Relationship Id="s${at + 1}" Type="${REL}/worksheet" Target="worksheets/sheet${at + 1}.xml"/>`).join('')}<Relationship Id="st" Type="${REL}/styles" Target="styles.xml"/></Relationships>`,
    'xl/styles.xml': `<styleSheet xmlns="${MAIN}"><cellXfs count="2"><xf numFmtId="0"/><xf numFmtId="22" applyNumberFormat="1"/></cellXfs></styleSheet>`,
  };
  names.forEach((name, at) => {
    const rows = sheets[name].map(
      (cells, row) => `<row r="${row + 1}">${cells.map((cell, column) => cellXml(cell, column, row)).join('')}</row>`,
    );
    parts[`xl/worksheets/sheet${at + 1}.xml`] =
      `<worksheet xmlns="${MAIN}"><sheetData>${rows.join('')}</sheetData></worksheet>`;
  });
  return zipSync(
    Object.fromEntries(Object.entries({ ...parts, ...others }).map(([name, text]) => [name, strToU8(text)])),
  );
}
