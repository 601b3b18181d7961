// Lists that Python has: the page comes with them, and no script keeps a copy.
export const lists = JSON.parse(document.getElementById("lists")?.textContent || "{}");
