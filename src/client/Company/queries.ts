import { useQuery } from "@tanstack/react-query";
import { api, must, type Schema } from "../api/client";
import { keys } from "../common/keys";

export type Company = Schema["CompanyView"];
export type CompanyOrder = Schema["CompanyOrder"];
export type Mail = Schema["MailView"];
export type MailOrder = Schema["MailOrder"];

export const useCompany = () => useQuery({ queryKey: keys.company, queryFn: () => must(api.GET("/api/setup/company")) });
export const useMail = () => useQuery({ queryKey: keys.mail, queryFn: () => must(api.GET("/api/setup/mail")) });

const of = (version: number) => ({ headers: { "If-Match": `"${version}"` } });

export const companyActs = {
  keep: (version: number, body: CompanyOrder) => must(api.PUT("/api/setup/company", { ...of(version), body })),
  putLogo: (png: Blob) => must(api.PUT("/api/setup/company/logo", { body: png as unknown as string, bodySerializer: (b) => b as unknown as BodyInit, headers: { "Content-Type": "image/png" } })),
  dropLogo: () => must(api.DELETE("/api/setup/company/logo")),
  keepMail: (version: number, body: MailOrder) => must(api.PUT("/api/setup/mail", { ...of(version), body })),
  tryMail: (body: MailOrder) => must(api.POST("/api/setup/mail/trial", { body })),
};
