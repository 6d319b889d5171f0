import type { ThemeConfig } from "antd";

/** A token of style/tokens.css, where the kit needs its value. */
const token = (name: string) => getComputedStyle(document.documentElement).getPropertyValue(`--${name}`).trim();

const [ink, soft, act, paper, sheet, hairline, tint] = ["ink", "soft", "act", "paper", "sheet", "hairline", "tint"].map(
  token,
);

/** Driven by a program (tests, screen recorders) nothing moves, so that what is shown is final. */
const still = navigator.webdriver;

export const theme: ThemeConfig = {
  token: {
    fontFamily: token("typeface"),
    fontSize: 14,
    colorPrimary: act,
    colorInfo: act,
    colorLink: act,
    colorText: ink,
    colorTextSecondary: soft,
    colorTextPlaceholder: soft,
    colorTextQuaternary: soft,
    colorBgBase: sheet,
    colorBgContainer: sheet,
    colorBgElevated: sheet,
    colorBgLayout: paper,
    colorBorder: hairline,
    colorBorderSecondary: hairline,
    colorSplit: hairline,
    colorError: token("brick"),
    colorSuccess: token("settled"),
    colorWarning: token("tint-mark"),
    colorPrimaryBg: tint,
    colorInfoBg: tint,
    controlItemBgActive: tint,
    controlItemBgActiveHover: tint,
    controlItemBgHover: paper,
    controlOutline: token("act-veil"),
    borderRadius: 4,
    borderRadiusLG: 4,
    borderRadiusSM: 4,
    controlHeight: 32,
    motion: !still,
    boxShadow: token("floats"),
    boxShadowSecondary: token("floats"),
  },
  components: {
    Button: {
      primaryShadow: "none",
      defaultShadow: "none",
      fontWeight: 600,
      defaultBorderColor: act,
      defaultColor: act,
    },
    Select: { optionSelectedBg: tint },
  },
};
