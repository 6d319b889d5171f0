import type { ThemeConfig } from "antd";

/** The colours of the interface; app.css has them as custom properties. */
export const ink = "#1B2A2E";
const paper = "#F5F2EA";
const sheet = "#FFFEFB";
const hairline = "#DCD6C8";
const softInk = "#5D6A6C";
const act = "#0F5F68";
const selection = "#FBF0D2";

/** Driven by a program (tests, screen recorders) nothing moves, so that what is shown is final. */
const still = navigator.webdriver;

export const theme: ThemeConfig = {
  token: {
    fontFamily: '"Source Sans 3 Variable", "Source Sans 3", sans-serif',
    fontSize: 14,
    colorPrimary: act,
    colorInfo: act,
    colorLink: act,
    colorText: ink,
    colorTextSecondary: softInk,
    colorTextPlaceholder: "#6B7678",
    colorTextQuaternary: softInk,
    colorBgBase: sheet,
    colorBgContainer: sheet,
    colorBgElevated: sheet,
    colorBgLayout: paper,
    colorBorder: hairline,
    colorBorderSecondary: hairline,
    colorSplit: hairline,
    colorError: "#A23B25",
    colorSuccess: "#4B6B3A",
    colorWarning: "#CF8F17",
    colorPrimaryBg: selection,
    colorInfoBg: selection,
    controlItemBgActive: selection,
    controlItemBgActiveHover: selection,
    controlItemBgHover: paper,
    controlOutline: "rgba(15, 95, 104, 0.35)",
    borderRadius: 4,
    borderRadiusLG: 4,
    borderRadiusSM: 4,
    controlHeight: 32,
    motion: !still,
    boxShadow: "0 6px 20px rgba(27, 42, 46, 0.16)",
    boxShadowSecondary: "0 6px 20px rgba(27, 42, 46, 0.16)",
  },
  components: {
    Button: {
      primaryShadow: "none",
      defaultShadow: "none",
      fontWeight: 600,
      defaultBorderColor: act,
      defaultColor: act,
    },
    Select: { optionSelectedBg: selection },
  },
};
